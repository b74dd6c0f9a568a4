import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { api, unwrap } from '../api/client';
import { trialHeaders } from '../api/draft';
import { TileFrame } from '../tiles/TileFrame';
import classes from './design.module.css';
import { LoneTiles } from './LoneTiles';

interface Props {
  dashboard: string;
  /** What the service has them under. */
  trial: string;
  /** Those that are shown. */
  only: string[];
  onTake: (tile: string) => void;
}

/** What is proposed for a draft, drawn with real figures. */
export function Proposed({ dashboard, trial, only, onTake }: Props) {
  const page = useQuery({
    queryKey: ['trial', dashboard, trial],
    gcTime: 0,
    staleTime: 0,
    queryFn: () =>
      unwrap(api.GET('/api/dashboards/{dashboard}', { params: { path: { dashboard } }, headers: trialHeaders(trial) })),
  });
  if (page.error) return <p role="alert">{page.error.message}</p>;
  if (!page.data) return null;
  return (
    <ul className={classes.proposals} aria-label="Proposals">
      <LoneTiles key={page.data.version} page={page.data} headers={trialHeaders(trial)}>
        {(t) =>
          only.includes(t.name) && (
            <li key={t.name} data-proposal={t.picture}>
              <div className={classes.proposal}>
                <TileFrame tile={t} />
              </div>
              <Button size="compact-sm" variant="default" fullWidth onClick={() => onTake(t.name)}>
                Take this {t.picture.replaceAll('_', ' ')}
              </Button>
            </li>
          )
        }
      </LoneTiles>
    </ul>
  );
}
