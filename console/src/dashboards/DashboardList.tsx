import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'wouter';
import { api, type Schemas, unwrap } from '../api/client';
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

/** The dashboards that the viewer may open, and what they have drafts of. */
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
            <Entry key={d.name} of={d} />
          ))}
        </ul>
        <Drafts
          title="Your own dashboards"
          of={ofDashboards.filter((d) => d.isOwn)}
          addressOf={(d) => placeOf(d.name, true)}
          wordsOf={() => 'Seen by nobody but those you share it with'}
        />
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
        <Drafts
          title="Your drafts"
          of={ofDashboards.filter((d) => !d.isOwn)}
          addressOf={(d) => `/d/${encodeURIComponent(d.name)}/design`}
          wordsOf={(d) => `${d.path}${d.isBehind ? ', published by others meanwhile' : ''}`}
        />
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

/** A dashboard, its remarks, and the viewer's views of it. */
function Entry({ of: { name, title, description, openRemarks, views } }: { of: Schemas['DashboardLine'] }) {
  return (
    <li>
      <Link to={addressOf(name)} className={classes.line}>
        <span className={classes.title}>{title}</span>
        <span className={classes.description}>{description}</span>
      </Link>
      {openRemarks > 0 && (
        <span className={classes.views}>
          <Link to={`${addressOf(name)}#remarks`}>
            {openRemarks === 1 ? '1 open remark' : `${openRemarks} open remarks`}
          </Link>
        </span>
      )}
      {views.length > 0 && (
        <span className={classes.views}>
          Your views:{' '}
          {views.map((v) => (
            <Link key={v.view} to={`/d/${name}?view=${v.view}`}>
              {v.title}
            </Link>
          ))}
        </span>
      )}
    </li>
  );
}

/** Dashboards of which the viewer has a draft; nothing where there are none. */
function Drafts(props: {
  title: string;
  of: Schemas['DraftLine'][];
  addressOf: (of: Schemas['DraftLine']) => string;
  wordsOf: (of: Schemas['DraftLine']) => string;
}) {
  if (props.of.length === 0) return null;
  return (
    <>
      <h2>{props.title}</h2>
      <ul className={classes.list} aria-label={props.title}>
        {props.of.map((d) => (
          <li key={d.path}>
            {/* Loaded anew: all that its page asks for is of the draft. */}
            <a href={props.addressOf(d)} className={classes.line}>
              <span className={classes.title}>{d.title}</span>
              <span className={classes.description}>{props.wordsOf(d)}</span>
            </a>
          </li>
        ))}
      </ul>
    </>
  );
}
