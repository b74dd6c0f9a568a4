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
import { DesignContext } from './useDesign';
import { useDesigning, useKnown, useLookedAt } from './useDesigning';
import { useDesk } from './useDesk';
import { helpFor, wordsFor } from './words';
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
  const { draft } = desk.work;
  const known = useKnown();
  const words = useMemo<Wording>(
    () => ({
      offers: (above, before) => wordsFor(above, before, known),
      help: (above, before, key) => helpFor(above, before, key, known),
    }),
    [known],
  );
  const design = useDesigning(dashboard, desk, known);
  useLookedAt(design.selected);
  const [isLooking, setLooking] = useState(false);
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
          tools={<Tools isLooking={isLooking} onLook={setLooking} />}
        >
          <Suspense>
            <ByHand />
          </Suspense>
        </DraftDesk>
      </div>
    </DesignContext>
  );
}

/** How the page of a draft is looked at. */
function Tools({ isLooking, onLook }: { isLooking: boolean; onLook: (isLooking: boolean) => void }) {
  return (
    <>
      <Button
        size="compact-sm"
        variant={isLooking ? 'light' : 'default'}
        aria-pressed={isLooking}
        onClick={() => onLook(!isLooking)}
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
  );
}
