import { useQueries } from '@tanstack/react-query';
import { Link } from 'wouter';
import { api, unwrap } from '../api/client';
import { textKinds } from '../design/textKinds';
import classes from './data.module.css';

/** The files of the workspace that are neither dashboards nor datasets, each a way to a draft of it. */
export default function OtherDefinitions({ mayDefine }: { mayDefine: boolean }) {
  const kinds = Object.keys(textKinds).filter((k) => mayDefine || k !== 'sources');
  const lists = useQueries({
    queries: kinds.map((kind) => ({
      queryKey: ['defined', kind],
      queryFn: () => unwrap(api.GET('/api/drafts/{kind}', { params: { path: { kind } } })),
    })),
  });
  return (
    <>
      <h2>Other definitions</h2>
      <ul className={classes.sources} aria-label="Other definitions">
        {kinds.flatMap((kind, i) =>
          (lists[i]?.data ?? []).map((d) => (
            <li key={d.path}>
              <Link to={`/definitions/${kind}/${encodeURIComponent(d.name)}`}>Change {d.path}</Link>{' '}
              <span className="quiet">{textKinds[kind as keyof typeof textKinds]?.about}</span>
            </li>
          )),
        )}
      </ul>
      {lists.map((l, i) => l.error && <p key={kinds[i]} role="alert">{`${kinds[i]}: ${l.error.message}`}</p>)}
    </>
  );
}
