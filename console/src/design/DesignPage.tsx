import { Alert, Button, SegmentedControl } from '@mantine/core';
import '@mantine/core/styles/Alert.css';
import '@mantine/core/styles/SegmentedControl.css';
import '@mantine/core/styles/FloatingIndicator.css';
import { useQuery } from '@tanstack/react-query';
import { History, Redo2, Undo2, Upload } from 'lucide-react';
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import { api, type FaultInfo, type Schemas, unwrap } from '../api/client';
import { draftAt } from '../api/draft';
import { DashboardRoute } from '../dashboard/DashboardRoute';
import classes from './design.module.css';
import { DesignContext, type Designing } from './useDesign';
import { useDraft } from './useDraft';
import { type Carried, type Said, type Step, tilesOf } from './written';
import type { Editor } from './YamlEditor';

const ByHand = lazy(() => import('./ByHand'));
const YamlEditor = lazy(() => import('./YamlEditor'));
const PublishDialog = lazy(() => import('./PublishDialog'));
const MergeDialog = lazy(() => import('./MergeDialog'));
const HistoryPanel = lazy(() => import('./HistoryPanel'));

type Draft = Schemas['DraftAnswer'];

/** A dashboard as one's own draft: the page with real figures, and its text beside it, each step saved at once. */
export default function DesignPage() {
  const { dashboard = '' } = useParams();
  // All that this window asked for was of the draft: what comes after is loaded anew.
  useEffect(
    () => () => {
      if (draftAt(window.location.pathname) === undefined) window.location.reload();
    },
    [],
  );
  const draft = useQuery({
    queryKey: ['draft', dashboard],
    queryFn: () => unwrap(api.GET('/api/drafts/{dashboard}', { params: { path: { dashboard } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (draft.error)
    return (
      <main style={{ padding: 24 }} role="alert">
        <p>{draft.error.message}</p>
        <a href="/">All dashboards</a>
      </main>
    );
  return draft.data ? <Design key={dashboard} dashboard={dashboard} opening={draft.data} /> : null;
}

function Design({ dashboard, opening }: { dashboard: string; opening: Draft }) {
  const [shown, setShown] = useState<'publish' | 'history'>();
  const [clashes, setClashes] = useState<Schemas['Clash'][]>();
  const [way, setWay] = useState<'hand' | 'text'>('hand');
  // The editor comes when it is first looked at, and stays from then on.
  const [hasEditor, setHasEditor] = useState(false);
  const [selected, setSelected] = useState<string>();
  const [carried, setCarried] = useState<Carried>();
  const [goingTo, setGoingTo] = useState<{ line: number; column: number }>();
  const editor = useRef<Editor>(null);
  const writing = useCallback((text: string) => editor.current?.write(text), []);
  const work = useDraft(dashboard, opening, writing);
  const { draft, state, problem, byHand, show } = work;
  const path = { params: { path: { dashboard } } };
  const go = (way: 'undo' | 'redo') =>
    byHand(() =>
      unwrap(
        way === 'undo'
          ? api.POST('/api/drafts/{dashboard}/undo', path)
          : api.POST('/api/drafts/{dashboard}/redo', path),
      ),
    );
  /** What others published comes into the draft; where both changed the same lines, it is asked whose stay. */
  const takeIn = () =>
    byHand(async (now) => {
      const answer = await unwrap(api.POST('/api/drafts/{dashboard}/merge', { ...path, body: { step: now.step } }));
      if (answer.draft) return answer.draft;
      setClashes(answer.clashes);
      return now;
    });

  const datasets = useQuery({ queryKey: ['datasets'], queryFn: () => unwrap(api.GET('/api/datasets')) });
  const pictures = useQuery({ queryKey: ['pictures'], queryFn: () => unwrap(api.GET('/api/pictures')) });
  const keys = useQuery({ queryKey: ['tile keys'], queryFn: () => unwrap(api.GET('/api/tile-keys')) });
  const words = useMemo(
    () => ({
      datasets: datasets.data ?? [],
      pictures: (pictures.data ?? []).map((p) => ({ name: p.name, about: p.summary })),
      keys: keys.data ?? [],
    }),
    [datasets.data, pictures.data, keys.data],
  );
  const { written, text } = draft;
  const design = useMemo<Designing>(() => {
    const placed = new Map((written?.tiles ?? []).map((t) => [t.tile, t]));
    const params = { path: { dashboard } };
    return {
      dashboard,
      said: written?.said as Said | undefined,
      datasets: datasets.data ?? [],
      pictures: pictures.data ?? [],
      keys: keys.data ?? [],
      selected,
      select: (tile) => {
        setSelected(tile);
        if (tile !== undefined) setWay('hand');
      },
      carried,
      carry: setCarried,
      take: (steps: Step[]) =>
        steps.length === 0
          ? Promise.resolve(true)
          : byHand(() => unwrap(api.POST('/api/drafts/{dashboard}/steps', { params: { ...params }, body: { steps } }))),
      arrange: (edit) =>
        byHand(() => unwrap(api.POST('/api/drafts/{dashboard}/edits', { params: { ...params }, body: { edit } }))),
      paste: (paste, tab) =>
        byHand(() =>
          unwrap(api.POST('/api/drafts/{dashboard}/edits', { params: { ...params }, body: { paste, tab } })),
        ),
      textOf: (tile) => {
        const at = placed.get(tile);
        if (!at) return undefined;
        const column = at.start - (text.lastIndexOf('\n', at.start - 1) + 1);
        return `${text
          .slice(at.start, at.end)
          .split('\n')
          .map((line, i) => (i === 0 ? line : line.slice(Math.min(column, line.length - line.trimStart().length))))
          .join('\n')
          .trimEnd()}\n`;
      },
      showText: (tile) => {
        const at = placed.get(tile);
        if (!at) return;
        setHasEditor(true);
        setWay('text');
        setGoingTo({ line: text.slice(0, at.start).split('\n').length, column: 1 });
      },
    };
  }, [dashboard, written, text, datasets.data, pictures.data, keys.data, selected, carried, byHand]);
  const isThere = tilesOf(design.said).some((t) => t.name === selected);
  useEffect(() => {
    if (selected !== undefined && design.said !== undefined && !isThere) setSelected(undefined);
  }, [selected, design.said, isThere]);
  // A tile that is chosen, or new, is looked at.
  useEffect(() => {
    if (selected === undefined) return;
    const find = () => document.querySelector(`[data-tile="${CSS.escape(selected)}"]`);
    const seen = () => {
      find()?.scrollIntoView({ block: 'nearest' });
    };
    if (find()) {
      seen();
      return;
    }
    const waiting = new MutationObserver(() => {
      if (!find()) return;
      waiting.disconnect();
      seen();
    });
    waiting.observe(document.body, { childList: true, subtree: true });
    return () => waiting.disconnect();
  }, [selected]);
  // The editor comes later than the wish to see a place in it.
  const [hasCome, setHasCome] = useState(false);
  const taking = useCallback((e: Editor | null) => {
    editor.current = e;
    setHasCome(e !== null);
  }, []);
  useEffect(() => {
    if (!goingTo || way !== 'text' || !hasCome) return;
    editor.current?.go(goingTo.line, goingTo.column);
    setGoingTo(undefined);
  }, [goingTo, way, hasCome]);
  const own = useMemo(() => draft.faults.filter((f) => f.file === draft.path), [draft]);
  const isBroken = draft.faults.some((f) => f.severity === 'error');

  return (
    <DesignContext value={design}>
      <div className={classes.design}>
        <section className={classes.page} aria-label="The page of the draft">
          {/* A new one whose text never was without an error has no page yet. */}
          {draft.published === null && isBroken && !draft.canUndo ? (
            <p style={{ padding: 24 }}>The page comes when the text has no error.</p>
          ) : (
            <DashboardRoute />
          )}
        </section>
        <section className={classes.text} aria-label="The design">
          <div className={classes.bar}>
            <span className={classes.path}>{draft.path}</span>
            <span className="quiet" role="status" data-draft={state}>
              {state === 'saved'
                ? draft.isDraft
                  ? 'Draft saved'
                  : 'As published'
                : state === 'saving'
                  ? 'Saving …'
                  : '…'}
            </span>
          </div>
          <div className={classes.bar}>
            <Button
              size="compact-sm"
              variant="default"
              disabled={!draft.canUndo}
              onClick={() => void go('undo')}
              leftSection={<Undo2 size={14} aria-hidden />}
            >
              Undo
            </Button>
            <Button
              size="compact-sm"
              variant="default"
              disabled={!draft.canRedo}
              onClick={() => void go('redo')}
              leftSection={<Redo2 size={14} aria-hidden />}
            >
              Redo
            </Button>
            <Button
              size="compact-sm"
              variant="default"
              onClick={() => setShown('history')}
              leftSection={<History size={14} aria-hidden />}
            >
              History
            </Button>
            <Button
              size="compact-sm"
              disabled={!draft.isDraft || isBroken || state !== 'saved' || draft.text === draft.published}
              onClick={() => setShown('publish')}
              leftSection={<Upload size={14} aria-hidden />}
            >
              Publish …
            </Button>
            <a href={draft.published === null ? '/' : `/d/${encodeURIComponent(dashboard)}`}>Leave</a>
          </div>
          {problem && (
            <Alert color="red" p="xs" role="alert">
              {problem.message}{' '}
              <button
                type="button"
                className={classes.link}
                onClick={() =>
                  void (problem.isBehind ? work.reload() : problem.isByHand ? work.dismiss() : work.save())
                }
              >
                {problem.isBehind ? 'Load it anew' : problem.isByHand ? 'All right' : 'Try again'}
              </button>
            </Alert>
          )}
          {draft.isBehind && (
            <p className={classes.behind}>
              Somebody published this file since this draft was begun.{' '}
              <button type="button" className={classes.link} onClick={() => void takeIn()}>
                Take it into the draft
              </button>
            </p>
          )}
          <SegmentedControl
            size="xs"
            classNames={{ root: classes.ways, indicator: classes.way, label: classes.wayLabel }}
            aria-label="How to design"
            data={[
              { value: 'hand', label: 'By hand' },
              { value: 'text', label: 'As text' },
            ]}
            value={way}
            onChange={(v) => {
              setGoingTo(undefined);
              setWay(v as typeof way);
              if (v === 'text') setHasEditor(true);
            }}
          />
          {way === 'hand' && (
            <Suspense>
              <ByHand />
            </Suspense>
          )}
          {hasEditor && (
            <div className={classes.editor} hidden={way !== 'text'}>
              <Suspense>
                <YamlEditor
                  ref={taking}
                  label={`Text of ${dashboard}`}
                  text={work.text()}
                  faults={own}
                  words={words}
                  onChange={work.change}
                />
              </Suspense>
            </div>
          )}
          <Faults
            path={draft.path}
            faults={draft.faults}
            onGo={(f) => {
              setHasEditor(true);
              setWay('text');
              setGoingTo({ line: f.line, column: f.column });
            }}
          />
        </section>
        {clashes && (
          <Suspense>
            <MergeDialog
              dashboard={dashboard}
              step={draft.step}
              clashes={clashes}
              onMerged={(merged) => {
                setClashes(undefined);
                show(merged);
              }}
              onClose={() => setClashes(undefined)}
            />
          </Suspense>
        )}
        {shown === 'publish' && (
          <Suspense>
            <PublishDialog dashboard={dashboard} draft={draft} onClose={() => setShown(undefined)} />
          </Suspense>
        )}
        {shown === 'history' && (
          <Suspense>
            <HistoryPanel
              path={draft.path}
              text={draft.text}
              onTake={(text) => {
                if (editor.current) editor.current.write(text);
                else work.change(text);
                setShown(undefined);
              }}
              onClose={() => setShown(undefined)}
            />
          </Suspense>
        )}
      </div>
    </DesignContext>
  );
}

/** What the check found, each a way to its place. */
function Faults({ path, faults, onGo }: { path: string; faults: FaultInfo[]; onGo: (fault: FaultInfo) => void }) {
  const [errors, others] = [faults.filter((f) => f.severity === 'error'), faults.filter((f) => f.severity !== 'error')];
  return (
    <div className={classes.faults} role="status" aria-label="What the check found">
      {faults.length === 0 && <p className="quiet">No fault.</p>}
      {errors.length > 0 && <p className="quiet">The page stays as it was before the fault.</p>}
      <ul>
        {[...errors, ...others].map((f) => (
          <li key={`${f.file} ${f.line} ${f.column} ${f.message}`} data-severity={f.severity}>
            {f.file === path ? (
              <button type="button" className={classes.link} onClick={() => onGo(f)}>
                Line {f.line}
              </button>
            ) : (
              `${f.file}, line ${f.line}`
            )}
            : {f.message} {f.remedy}
          </li>
        ))}
      </ul>
    </div>
  );
}
