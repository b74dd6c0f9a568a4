import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useParams } from 'wouter';
import { api, type FaultInfo, type Schemas, type SourceStep, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { Steps } from '../data/SourceForm';
import { DraftDesk } from './DraftDesk';
import classes from './design.module.css';
import type { DraftKind } from './draftInHand';
import { item, type PathStep, shapeHelp, shapeOffers } from './shapeWords';
import { textKinds } from './textKinds';
import { useDesk } from './useDesk';
import type { Offer } from './words';
import type { Wording } from './YamlEditor';

/** A definition as one's own draft: its text, and beside it what can be written in it. */
export default function DefinitionPage() {
  const { kind = '', name = '' } = useParams<{ kind?: string; name?: string }>();
  const known = Object.keys(textKinds).find((k) => k === kind) as DraftKind | undefined;
  const draft = useQuery({
    queryKey: ['draft of', kind, name],
    queryFn: () => unwrap(api.GET('/api/drafts/{kind}/{name}', { params: { path: { kind, name } } })),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  const words = useQuery({
    queryKey: ['definition words', kind],
    queryFn: () => unwrap(api.GET('/api/definition-words/{kind}', { params: { path: { kind } } })),
  });
  const error = known ? (draft.error ?? words.error) : new Error(`There is no page for ${kind}.`);
  if (error || !known)
    return (
      <main style={{ padding: 24 }} role="alert">
        <p>{error?.message}</p>
        <a href="/data">Data</a>
      </main>
    );
  return draft.data && words.data ? (
    <Work key={`${kind} ${name}`} kind={known} name={name} opening={draft.data} shape={words.data} />
  ) : null;
}

interface Props {
  kind: DraftKind;
  name: string;
  opening: Schemas['DraftAnswer'];
  shape: Schemas['WordShape'];
}

function Work({ kind, name, opening, shape }: Props) {
  const desk = useDesk(kind, name, opening, 'text');
  const datasets = useQuery({ queryKey: ['datasets'], queryFn: () => unwrap(api.GET('/api/datasets')) });
  const dashboards = useQuery({ queryKey: ['dashboards'], queryFn: () => unwrap(api.GET('/api/dashboards')) });
  const words = useMemo<Wording>(() => {
    const names = (path: PathStep[], isKey: boolean) =>
      namesAt(path, isKey, datasets.data ?? [], dashboards.data ?? []);
    return {
      offers: (above, before) => shapeOffers(shape, above, before, names),
      help: (above, before, key) => shapeHelp(shape, above, before, key),
    };
  }, [shape, datasets.data, dashboards.data]);
  const { title, about } = textKinds[kind] as { title: string; about: string };
  const isOne = kind === 'access' || kind === 'workspace';
  return (
    <div className={`${classes.design} ${classes.asText}`}>
      <section className={classes.page} aria-label="What can be written in it">
        <main className={classes.reference}>
          <h1>{isOne ? title : `${title}: ${name}`}</h1>
          <p>{about}</p>
          {kind === 'sources' && <Trial text={desk.work.draft.text} />}
          <h2>What can be written in it</h2>
          <Keys shape={shape} depth={0} />
        </main>
      </section>
      <DraftDesk desk={desk} words={words} address="/data" list="/data" stays={undefined} />
    </div>
  );
}

/** Names of the workspace that can stand at a place, as far as one's roles know them. */
function namesAt(
  path: PathStep[],
  isKey: boolean,
  datasets: Schemas['DatasetInfo'][],
  dashboards: Schemas['DashboardLine'][],
): Offer[] {
  const last = path.at(-1);
  const of = (list: { name: string; title: string }[]) => list.map((d) => ({ label: d.name, detail: d.title }));
  if (isKey)
    return last === 'reads' ? of(datasets) : last === 'dashboards' || last === 'viewers_may' ? of(dashboards) : [];
  if (last === 'dataset') return of(datasets);
  if (last === 'dashboard') return of(dashboards);
  // What a role hides is of the dataset above it.
  const hides = path.lastIndexOf('hides');
  const hidden = hides > 0 && last === item ? datasets.find((d) => d.name === path[hides - 1]) : undefined;
  return hidden ? of([...hidden.fields, ...hidden.measures]) : [];
}

/** Whether the source of a text can be reached, step by step. */
function Trial({ text }: { text: string }) {
  const [answer, setAnswer] = useState<{ steps: SourceStep[]; faults: FaultInfo[] }>();
  const [problem, run] = useTold();
  return (
    <>
      <Button
        size="compact-sm"
        variant="default"
        onClick={() => run(async () => setAnswer(await unwrap(api.POST('/api/sources/test', { body: { text } }))))}
      >
        Test it as it is written
      </Button>
      {problem && <p role="alert">{problem}</p>}
      {answer?.faults.map((f) => (
        <p key={`${f.line} ${f.message}`} role="alert">{`Line ${f.line}: ${f.message} ${f.remedy ?? ''}`}</p>
      ))}
      {answer && <Steps steps={answer.steps} />}
    </>
  );
}

/** Keys with what they are for, what is below them folded. */
function Keys({ shape, depth }: { shape: Schemas['WordShape']; depth: number }) {
  const keys = shape.keys as Schemas['WordKey'][];
  const inner = shape.item;
  if (keys.length === 0) return inner ? <Keys shape={inner} depth={depth} /> : null;
  return (
    <dl className={classes.keys}>
      {keys.map((k) => {
        const words = (k.shape.words.length > 0 ? k.shape.words : (k.shape.item?.words ?? [])) as string[];
        const below = k.shape.keys.length > 0 || (k.shape.item?.keys.length ?? 0) > 0 || k.shape.item?.item;
        return (
          <div key={k.name}>
            <dt>
              <code>{k.name}</code>
              {k.required && ' (needed)'}
            </dt>
            <dd>
              {k.doc}
              {words.length > 0 && <span className="quiet"> {words.join(', ')}</span>}
              {below && depth < 5 && (
                <details>
                  <summary>What stands in {k.name}</summary>
                  <Keys shape={k.shape} depth={depth + 1} />
                </details>
              )}
            </dd>
          </div>
        );
      })}
    </dl>
  );
}
