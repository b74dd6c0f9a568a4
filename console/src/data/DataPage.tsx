import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'wouter';
import { api, type Schemas, type SourceStep, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { Header } from '../session/Header';
import { useSession } from '../session/SignedIn';
import classes from './data.module.css';
import { Steps } from './SourceForm';

const OtherDefinitions = lazy(() => import('./OtherDefinitions'));

/** The datasets that the viewer may read, with what each field means; for those who define, the sources too. */
export default function DataPage() {
  const session = useSession();
  const mayDefine = session.may.includes('define');
  const mayPublish = session.may.includes('publish');
  const mayChange = mayDefine && mayPublish;
  const drafts = useQuery({
    queryKey: ['drafts'],
    enabled: mayPublish,
    queryFn: () => unwrap(api.GET('/api/drafts')),
  });
  const drafted = (drafts.data ?? []).filter((d) => d.kind !== 'dashboards');
  const defined = useQuery({
    queryKey: ['defined datasets'],
    enabled: mayChange,
    queryFn: () => unwrap(api.GET('/api/drafts/{kind}', { params: { path: { kind: 'datasets' } } })),
  });
  const datasets = useQuery({ queryKey: ['datasets'], queryFn: () => unwrap(api.GET('/api/datasets')) });
  // What no role of one's own reads can be defined all the same.
  const unread = (defined.data ?? []).filter((d) => datasets.data?.every((own) => own.name !== d.name));
  return (
    <>
      <Header title="Data" back>
        {mayDefine && (
          <Button size="xs" component={Link} to="/data/new">
            New dataset
          </Button>
        )}
      </Header>
      <main className={classes.page}>
        {mayDefine && <Sources />}
        <Drafts of={drafted} />
        <h2>Datasets</h2>
        {datasets.error && <p role="alert">{datasets.error.message}</p>}
        {datasets.data?.length === 0 && <p>Your roles grant no dataset.</p>}
        {datasets.data?.map((d) => (
          <Dataset key={d.name} of={d} mayChange={mayChange} />
        ))}
        {unread.length > 0 && (
          <>
            <h2>Datasets that your own roles do not read</h2>
            <ul className={classes.sources}>
              {unread.map((d) => (
                <li key={d.path}>
                  <Link to={changing(d.name)}>Change {d.title}</Link> <span className="quiet">{d.path}</span>
                </li>
              ))}
            </ul>
          </>
        )}
        {mayPublish && (
          <Suspense>
            <OtherDefinitions mayDefine={mayDefine} />
          </Suspense>
        )}
      </main>
    </>
  );
}

/** Where a dataset is changed. */
const changing = (name: string) => `/data/${encodeURIComponent(name)}/change`;

/** What of datasets and other definitions the viewer has drafts of; nothing where there are none. */
function Drafts({ of }: { of: Schemas['DraftLine'][] }) {
  if (of.length === 0) return null;
  return (
    <>
      <h2>Your drafts</h2>
      <ul className={classes.sources}>
        {of.map((d) => (
          <li key={d.path}>
            <Link
              to={d.kind === 'datasets' ? changing(d.name) : `/definitions/${d.kind}/${encodeURIComponent(d.name)}`}
            >
              {d.title}
            </Link>{' '}
            <span className="quiet">
              {d.path}
              {d.isBehind && ', published by others meanwhile'}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** A dataset: what its fields and measures are called and mean. */
function Dataset({ of, mayChange }: { of: Schemas['DatasetInfo']; mayChange: boolean }) {
  return (
    <details className={classes.dataset}>
      <summary>
        <b>{of.title}</b> <span className="quiet">{of.description}</span>
      </summary>
      {mayChange && (
        <div className={classes.buttons}>
          <Button size="compact-xs" variant="default" component={Link} to={changing(of.name)}>
            Change {of.title}
          </Button>
        </div>
      )}
      <table className={classes.dictionary}>
        <thead>
          <tr>
            {['Field', 'Type', 'Unit', 'Meaning'].map((heading) => (
              <th key={heading} scope="col">
                {heading}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {of.fields.map((f) => (
            <tr key={f.name}>
              <td>{f.title}</td>
              <td>{f.kind}</td>
              <td>{f.unit}</td>
              <td>{f.description}</td>
            </tr>
          ))}
          {of.measures.map((m) => (
            <tr key={m.name}>
              <td>{m.title}</td>
              <td>measure</td>
              <td />
              <td>
                {m.description} <code>{m.formula}</code>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

function Sources() {
  const sources = useQuery({ queryKey: ['sources'], queryFn: () => unwrap(api.GET('/api/sources')) });
  const [tested, setTested] = useState<{ source: string; steps: SourceStep[] }>();
  const [problem, run] = useTold();
  return (
    <>
      <h2>Sources</h2>
      {sources.error && <p role="alert">{sources.error.message}</p>}
      {problem && <p role="alert">{problem}</p>}
      <ul className={classes.sources}>
        {sources.data?.map((s) => (
          <li key={s.name}>
            <div className={classes.source}>
              <span>
                <b>{s.title}</b>{' '}
                <span className="quiet">
                  {s.engine} · {s.where}
                </span>
              </span>
              <Button
                size="compact-xs"
                variant="default"
                onClick={() =>
                  run(async () =>
                    setTested({
                      source: s.name,
                      steps: await unwrap(
                        api.POST('/api/sources/{source}/test', { params: { path: { source: s.name } } }),
                      ),
                    }),
                  )
                }
              >
                Test
              </Button>
            </div>
            {tested?.source === s.name && <Steps steps={tested.steps} />}
          </li>
        ))}
      </ul>
    </>
  );
}
