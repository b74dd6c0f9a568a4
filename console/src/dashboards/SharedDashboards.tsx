import { useQuery } from '@tanstack/react-query';
import { api, unwrap } from '../api/client';
import classes from './dashboards.module.css';

/** Dashboards of others' own that they share with the viewer. */
export default function SharedDashboards() {
  const shared = useQuery({ queryKey: ['shared dashboards'], queryFn: () => unwrap(api.GET('/api/own-dashboards')) });
  if (shared.error) return <p role="alert">{shared.error.message}</p>;
  if (!shared.data?.length) return null;
  return (
    <>
      <h2>Shared with you</h2>
      <ul className={classes.list} aria-label="Shared with you">
        {shared.data.map((d) => (
          <li key={`${d.owner} ${d.name}`}>
            {/* Loaded anew: all that its page asks for is of it. */}
            <a href={`/own/${encodeURIComponent(d.owner)}/${encodeURIComponent(d.name)}`} className={classes.line}>
              <span className={classes.title}>{d.title}</span>
              <span className={classes.description}>Made by {d.ownerTitle}</span>
            </a>
          </li>
        ))}
      </ul>
    </>
  );
}
