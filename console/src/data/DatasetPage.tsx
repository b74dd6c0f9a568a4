import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useMemo, useState } from 'react';
import { useParams } from 'wouter';
import { api, type Schemas, unwrap } from '../api/client';
import { DraftDesk } from '../design/DraftDesk';
import design from '../design/design.module.css';
import { useDesk } from '../design/useDesk';
import type { Said } from '../design/written';
import type { Wording } from '../design/YamlEditor';
import classes from './data.module.css';
import { datasetHelp, datasetOffers } from './datasetWords';
import type { FormulaWords } from './FormulaEditor';
import { Preview } from './Preview';
import { partsOf } from './parts';
import '../pictures/parts/controls.css';

const DatasetByHand = lazy(() => import('./DatasetByHand'));

/** A dataset as one's own draft: its rows, and its definition beside them, each step saved at once. */
export default function DatasetPage() {
  const { dataset = '' } = useParams<{ dataset?: string }>();
  const draft = useQuery({
    queryKey: ['draft of dataset', dataset],
    queryFn: () =>
      unwrap(api.GET('/api/drafts/{kind}/{name}', { params: { path: { kind: 'datasets', name: dataset } } })),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  if (draft.error)
    return (
      <main className={classes.page} role="alert">
        <p>{draft.error.message}</p>
        <a href="/data">All datasets</a>
      </main>
    );
  return draft.data ? <Work key={dataset} dataset={dataset} opening={draft.data} /> : null;
}

const noKeys: Schemas['DatasetKeysInfo'] = { dataset: [], field: [], measure: [] };

function Work({ dataset, opening }: { dataset: string; opening: Schemas['DraftAnswer'] }) {
  const desk = useDesk('datasets', dataset, opening);
  const { draft } = desk.work;
  const keys = useQuery({ queryKey: ['dataset keys'], queryFn: () => unwrap(api.GET('/api/dataset-keys')) });
  const functions = useQuery({ queryKey: ['formula words'], queryFn: () => unwrap(api.GET('/api/formula-words')) });
  const written = draft.written?.said as { [key: string]: Said } | undefined;
  // Text with an open brace says nothing, just when its names are asked for: what it said last holds on.
  const [said, setSaid] = useState(written);
  if (written && written !== said) setSaid(written);
  const words = useMemo<FormulaWords>(
    () => ({
      names: partsOf(said).map((p) => ({
        name: p.name,
        title: p.title || p.name,
        kind: p.isMeasure ? 'measure' : (p.type ?? 'formula'),
      })),
      functions: functions.data ?? [],
    }),
    [said, functions.data],
  );
  const wording = useMemo<Wording>(
    () => ({
      offers: (above, before) => datasetOffers(above, before, keys.data ?? noKeys, words),
      help: (above, before, key) => datasetHelp(above, before, key, keys.data ?? noKeys),
    }),
    [keys.data, words],
  );
  // While the text has an error its rows stay as they were.
  const isBroken = draft.faults.some((f) => f.severity === 'error' && f.file === draft.path);
  const [good, setGood] = useState(isBroken ? undefined : draft.text);
  if (!isBroken && good !== draft.text) setGood(draft.text);
  const title = typeof said?.title === 'string' ? said.title : dataset;
  return (
    <div className={design.design}>
      <section className={design.page} aria-label="The rows of the draft">
        <main className={classes.rowsOf}>
          <h1>{title}</h1>
          {good === undefined ? <p>Its rows come when the text has no error.</p> : <Preview text={good} />}
        </main>
      </section>
      <DraftDesk
        desk={desk}
        words={wording}
        address="/data"
        list="/data"
        stays={isBroken ? 'The rows stay as they were before the fault.' : undefined}
      >
        <Suspense>
          <div className={design.byHand}>
            <DatasetByHand desk={desk} keys={keys.data} words={words} />
          </div>
        </Suspense>
      </DraftDesk>
    </div>
  );
}
