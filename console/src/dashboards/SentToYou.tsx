import { Button } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'wouter';
import { api, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { timeIn, whenOf } from '../look/when';
import classes from './dashboards.module.css';

/** What the viewer has sent to themselves again and again, and what was sent to them of late. */
export default function SentToYou() {
  const client = useQueryClient();
  const own = useQuery({ queryKey: ['subscriptions'], queryFn: () => unwrap(api.GET('/api/subscriptions')) });
  const sent = useQuery({ queryKey: ['deliveries'], queryFn: () => unwrap(api.GET('/api/deliveries')) });
  const [problem, act] = useTold();
  const shown = (sent.data ?? []).filter((d) => d.file !== null || d.state === 'failed').slice(0, 5);
  if (!own.data?.length && shown.length === 0) return null;
  const end = (id: string) =>
    act(async () => {
      await unwrap(api.DELETE('/api/subscriptions/{id}', { params: { path: { id } } }));
      await client.invalidateQueries({ queryKey: ['subscriptions'] });
    });
  return (
    <>
      <h2>Sent to you</h2>
      {problem && <p role="alert">{problem}</p>}
      <ul className={classes.list} aria-label="Sent to you">
        {own.data?.map((s) => (
          <li key={s.id} className={classes.report}>
            <div className={classes.line}>
              <span className={classes.title}>
                {s.dashboardTitle ? (
                  <Link to={s.link ?? `/d/${encodeURIComponent(s.dashboard)}`}>{s.dashboardTitle}</Link>
                ) : (
                  'A dashboard that is not there for you any more'
                )}
              </span>
              <span className={classes.description}>
                {s.times.words}, in the state that you had, as {s.form}
                {s.times.next[0] && `; next ${timeIn(s.times.zone, s.times.next[0])} (${s.times.zone})`}
              </span>
            </div>
            <Button
              size="compact-sm"
              variant="default"
              aria-label={`End it: ${s.dashboardTitle ?? s.dashboard}, ${s.times.words}`}
              onClick={() => end(s.id)}
            >
              End it
            </Button>
          </li>
        ))}
        {shown.map((d) => (
          <li key={d.run}>
            {d.file === null ? (
              <div className={classes.line}>
                <span className={classes.title}>{d.title}</span>
                <span className={classes.description}>
                  {whenOf(d.due)}: it could not be made. {d.reason}
                </span>
              </div>
            ) : (
              <a className={classes.line} href={`/api/deliveries/${encodeURIComponent(d.run)}/file`} download>
                <span className={classes.title}>{d.title}</span>
                <span className={classes.description}>
                  {whenOf(d.due)}, {d.file}
                  {d.state === 'failed' && `. It could not be sent: ${d.reason}`}
                </span>
              </a>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
