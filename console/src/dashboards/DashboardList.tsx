import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'wouter';
import { api, unwrap } from '../api/client';
import { placeOf } from '../api/draft';
import { addressOf } from '../model/visit';
import { Header } from '../session/Header';
import { useSession } from '../session/SignedIn';
import classes from './dashboards.module.css';

const SharedDashboards = lazy(() => import('./SharedDashboards'));
const Reports = lazy(() => import('./Reports'));
const SentToYou = lazy(() => import('./SentToYou'));
const HandedDrafts = lazy(() => import('./HandedDrafts'));
const NewDashboard = lazy(() => import('../design/NewDashboard'));

/** The dashboards that the viewer may open. */
export function DashboardList() {
  const session = useSession();
  const list = useQuery({ queryKey: ['dashboards'], queryFn: () => unwrap(api.GET('/api/dashboards')) });
  const mayPublish = session.may.includes('publish');
  const mayMake = mayPublish || session.may.includes('own');
  const drafts = useQuery({
    queryKey: ['drafts'],
    enabled: session.lookedAsBy === null,
    queryFn: () => unwrap(api.GET('/api/drafts')),
  });
  const ofDashboards = (drafts.data ?? []).filter((d) => d.kind === 'dashboards');
  const [own, drafted] = [ofDashboards.filter((d) => d.isOwn), ofDashboards.filter((d) => !d.isOwn)];
  const [isNew, setNew] = useState(false);
  return (
    <>
      <Header title={session.workspace || 'Weir'}>
        <Link to="/data" className={classes.data}>
          Data
        </Link>
      </Header>
      <main className={classes.page}>
        {/* Above all that comes one after the other: below it, the button would move away under a pointer. */}
        <div className={classes.heading}>
          <h2>Dashboards</h2>
          {mayMake && list.data && (
            <button type="button" className={classes.new} onClick={() => setNew(true)}>
              New dashboard
            </button>
          )}
        </div>
        {list.error && <p role="alert">{list.error.message}</p>}
        {list.data?.length === 0 && <p>Your roles grant no dashboard. Ask who looks after {session.workspace}.</p>}
        <ul className={classes.list}>
          {list.data?.map((d) => (
            <li key={d.name}>
              <Link to={addressOf(d.name)} className={classes.line}>
                <span className={classes.title}>{d.title}</span>
                <span className={classes.description}>{d.description}</span>
              </Link>
              {Number(d.openRemarks) > 0 && (
                <span className={classes.views}>
                  <Link to={`${addressOf(d.name)}#remarks`}>
                    {d.openRemarks === 1 ? '1 open remark' : `${d.openRemarks} open remarks`}
                  </Link>
                </span>
              )}
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
        {own.length > 0 && (
          <>
            <h2>Your own dashboards</h2>
            <ul className={classes.list} aria-label="Your own dashboards">
              {own.map((d) => (
                <li key={d.path}>
                  {/* Loaded anew: all that its page asks for is of it. */}
                  <a href={placeOf(d.name, true)} className={classes.line}>
                    <span className={classes.title}>{d.title}</span>
                    <span className={classes.description}>Seen by nobody but those you share it with</span>
                  </a>
                </li>
              ))}
            </ul>
          </>
        )}
        <Suspense>
          <SharedDashboards />
        </Suspense>
        <Suspense>
          <Reports />
        </Suspense>
        <Suspense>
          <SentToYou />
        </Suspense>
        {mayPublish && (
          <Suspense>
            <HandedDrafts />
          </Suspense>
        )}
        {drafted.length > 0 && (
          <>
            <h2>Your drafts</h2>
            <ul className={classes.list}>
              {drafted.map((d) => (
                <li key={d.path}>
                  {/* Loaded anew: all that its page asks for is of the draft. */}
                  <a href={`/d/${encodeURIComponent(d.name)}/design`} className={classes.line}>
                    <span className={classes.title}>{d.title}</span>
                    <span className={classes.description}>
                      {d.path}
                      {d.isBehind && ', published by others meanwhile'}
                    </span>
                  </a>
                </li>
              ))}
            </ul>
          </>
        )}
      </main>
      {isNew && list.data && (
        <Suspense>
          <NewDashboard
            known={list.data}
            isOwn={!mayPublish}
            drafted={(drafts.data ?? []).map((d) => d.name)}
            onClose={() => setNew(false)}
          />
        </Suspense>
      )}
    </>
  );
}
