import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { Eye, Percent } from 'lucide-react';
import { lazy, Suspense, useEffect, useMemo, useState } from 'react';
import { useParams } from 'wouter';
import { api, type Schemas, unwrap } from '../api/client';
import { draftAt, drawOnSample, placeOf, sample } from '../api/draft';
import { DashboardRoute } from '../dashboard/DashboardRoute';
import { DraftDesk } from './DraftDesk';
import classes from './design.module.css';
import { DesignContext, type Designing } from './useDesign';
import { useDesk } from './useDesk';
import { helpFor, wordsFor } from './words';
import { type Carried, type Said, tilesOf } from './written';
import type { Wording } from './YamlEditor';

const ByHand = lazy(() => import('./ByHand'));
const SeenAs = lazy(() => import('./SeenAs'));

type Draft = Schemas['DraftAnswer'];

/** A dashboard as one's own draft: the page with real figures, and its text beside it, each step saved at once. */
export default function DesignPage() {
  const { dashboard = '' } = useParams<{ dashboard?: string }>();
  // All that this window asked for was of the draft: what comes after is loaded anew.
  useEffect(
    () => () => {
      if (draftAt(window.location.pathname) === undefined) window.location.reload();
    },
    [],
  );
  const draft = useQuery({
    queryKey: ['draft', dashboard],
    queryFn: () =>
      unwrap(api.GET('/api/drafts/{kind}/{name}', { params: { path: { kind: 'dashboards', name: dashboard } } })),
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
  const desk = useDesk('dashboards', dashboard, opening);
  const [selected, setSelected] = useState<string>();
  const [carried, setCarried] = useState<Carried>();
  const [isLooking, setLooking] = useState(false);
  const { setWay, go, take } = desk;
  const { draft, byHand } = desk.work;

  const datasets = useQuery({ queryKey: ['datasets'], queryFn: () => unwrap(api.GET('/api/datasets')) });
  const pictures = useQuery({ queryKey: ['pictures'], queryFn: () => unwrap(api.GET('/api/pictures')) });
  const keys = useQuery({ queryKey: ['tile keys'], queryFn: () => unwrap(api.GET('/api/tile-keys')) });
  const words = useMemo<Wording>(() => {
    const known = {
      datasets: datasets.data ?? [],
      pictures: (pictures.data ?? []).map((p) => ({ name: p.name, about: p.summary })),
      keys: keys.data ?? [],
    };
    return {
      offers: (above, before) => wordsFor(above, before, known),
      help: (above, before, key) => helpFor(above, before, key, known),
    };
  }, [datasets.data, pictures.data, keys.data]);
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
      take,
      arrange: (edit) =>
        byHand(() => unwrap(api.POST('/api/drafts/dashboards/{dashboard}/edits', { params, body: { edit } }))),
      paste: (paste, tab) =>
        byHand(() => unwrap(api.POST('/api/drafts/dashboards/{dashboard}/edits', { params, body: { paste, tab } }))),
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
        go(text.slice(0, at.start).split('\n').length, 1);
      },
    };
  }, [dashboard, written, text, datasets.data, pictures.data, keys.data, selected, carried, byHand, setWay, go, take]);
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
  const isBroken = draft.faults.some((f) => f.severity === 'error');

  return (
    <DesignContext value={design}>
      <div className={classes.design}>
        <section className={classes.page} aria-label="The page of the draft">
          {/* A new one whose text never was without an error has no page yet. */}
          {draft.published === null && isBroken && !draft.canUndo ? (
            <p style={{ padding: 24 }}>The page comes when the text has no error.</p>
          ) : isLooking ? (
            <Suspense>
              <SeenAs dashboard={dashboard} onClose={() => setLooking(false)} />
            </Suspense>
          ) : (
            <DashboardRoute />
          )}
        </section>
        <DraftDesk
          desk={desk}
          words={words}
          address={placeOf(dashboard)}
          list={draft.mayPublish ? '/' : placeOf(dashboard)}
          stays="The page stays as it was before the fault."
          tools={
            <>
              <Button
                size="compact-sm"
                variant={isLooking ? 'light' : 'default'}
                aria-pressed={isLooking}
                onClick={() => setLooking(!isLooking)}
                leftSection={<Eye size={14} aria-hidden />}
              >
                As others have it
              </Button>
              <Button
                size="compact-sm"
                variant={sample === null ? 'default' : 'light'}
                aria-pressed={sample !== null}
                title="For data that take long: one row of ten, drawn at random. Nobody else sees a sample."
                onClick={() => drawOnSample(sample === null)}
                leftSection={<Percent size={14} aria-hidden />}
              >
                On a sample
              </Button>
            </>
          }
        >
          <Suspense>
            <ByHand />
          </Suspense>
        </DraftDesk>
      </div>
    </DesignContext>
  );
}
