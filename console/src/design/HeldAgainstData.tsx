import { useQuery } from '@tanstack/react-query';
import { api, unwrap } from '../api/client';
import classes from './design.module.css';

interface Props {
  kind: string;
  name: string;
  step: number;
  /** The path of its file. */
  path: string;
}

/** What a draft comes to with the data as they are: asked once more before it is published. */
export default function HeldAgainstData({ kind, name, step, path }: Props) {
  const check = useQuery({
    queryKey: ['draft check', kind, name, step],
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => unwrap(api.POST('/api/drafts/{kind}/{name}/check', { params: { path: { kind, name } } })),
  });
  if (check.error) return <p role="alert">It could not be held against the data: {check.error.message}</p>;
  if (!check.data)
    return (
      <p role="status" className="quiet">
        Being held against the data …
      </p>
    );
  const { faults, tilesAsked, isWhole } = check.data;
  const asked = tilesAsked === 0 ? '' : tilesAsked === 1 ? ' One tile was asked.' : ` ${tilesAsked} tiles were asked.`;
  return (
    <div role="status" aria-label="Held against the data" className={classes.held}>
      {faults.length === 0 ? (
        <p className="quiet">Held against the data, no fault was found.{asked}</p>
      ) : (
        <>
          <p>Held against the data, this was found:{asked}</p>
          <ul className={classes.heldList}>
            {faults.map((f) => (
              <li key={`${f.file} ${f.line} ${f.message}`} className={classes.heldFault} data-severity={f.severity}>
                {f.file === path ? `Line ${f.line}` : `${f.file}, line ${f.line}`}: {f.message} {f.remedy}
              </li>
            ))}
          </ul>
        </>
      )}
      {!isWhole && <p>It took too long to look at all of it: there may be more.</p>}
    </div>
  );
}
