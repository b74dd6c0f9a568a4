import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, unwrap } from '../api/client';
import { addressOf } from '../model/visit';
import { Header } from '../session/Header';
import { useSession } from '../session/SignedIn';
import classes from './dashboards.module.css';

/** The dashboards that the viewer may open. */
export function DashboardList() {
  const session = useSession();
  const list = useQuery({ queryKey: ['dashboards'], queryFn: () => unwrap(api.GET('/api/dashboards')) });
  return (
    <>
      <Header title={session.workspace || 'Weir'}>
        <Link to="/data" className={classes.data}>
          Data
        </Link>
      </Header>
      <main className={classes.page}>
        <h2>Dashboards</h2>
        {list.error && <p role="alert">{list.error.message}</p>}
        {list.data?.length === 0 && <p>Your roles grant no dashboard. Ask who looks after {session.workspace}.</p>}
        <ul className={classes.list}>
          {list.data?.map((d) => (
            <li key={d.name}>
              <Link to={addressOf(d.name)} className={classes.line}>
                <span className={classes.title}>{d.title}</span>
                <span className={classes.description}>{d.description}</span>
              </Link>
              {d.views.length > 0 && (
                <span className={classes.views}>
                  Your views:{' '}
                  {d.views.map((v) => (
                    <Link key={v.view} to={`/d/${d.name}?view=${v.view}`}>
                      {v.title}
                    </Link>
                  ))}
                </span>
              )}
            </li>
          ))}
        </ul>
      </main>
    </>
  );
}
