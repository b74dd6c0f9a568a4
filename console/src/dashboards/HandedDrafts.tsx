import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { api, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { whenOf } from '../look/when';
import classes from './dashboards.module.css';

/** What others handed to those who publish: taken, it is a draft of one's own. */
export default function HandedDrafts() {
  const handed = useQuery({ queryKey: ['handed drafts'], queryFn: () => unwrap(api.GET('/api/handed-drafts')) });
  const [problem, run] = useTold();
  if (!handed.data?.length) return null;
  const take = (owner: string, dashboard: string) =>
    run(async () => {
      const { name } = await unwrap(
        api.POST('/api/handed-drafts/{owner}/{dashboard}/take', { params: { path: { owner, dashboard } } }),
      );
      window.location.assign(`/d/${encodeURIComponent(name)}/design`);
    });
  return (
    <>
      <h2>Handed over to be published</h2>
      {problem && <p role="alert">{problem}</p>}
      <ul className={classes.list} aria-label="Handed over">
        {handed.data.map((h) => (
          <li key={`${h.owner} ${h.path}`} className={classes.handed}>
            <span className={classes.line}>
              <span className={classes.title}>{h.title}</span>
              <span className={classes.description}>
                {h.ownerTitle}, {whenOf(h.at)}
                {h.why && `: ${h.why}`}
              </span>
            </span>
            <Button size="compact-sm" variant="default" onClick={() => take(h.owner, h.name)}>
              Take {h.title} on
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}
