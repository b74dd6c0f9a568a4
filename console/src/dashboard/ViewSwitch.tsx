import { Button } from '@mantine/core';
import { ChevronDown } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import { useHistoryState } from 'wouter/use-browser-location';
import { lookedAs } from '../api/lookAs';
import { useTold } from '../api/useTold';
import { useGo } from '../route';
import classes from './dashboard.module.css';
import { usePage } from './usePage';
import { useViews, type ViewNaming } from './useViews';

const loadMenu = () => import('./ViewMenu');
const ViewMenu = lazy(loadMenu);
const DifferencesDialog = lazy(() => import('../arrange/DifferencesDialog'));
const PromoteDialog = lazy(() => import('../arrange/PromoteDialog'));
const ShareDialog = lazy(() => import('./ShareDialog'));
const ViewDialog = lazy(() => import('./ViewDialog'));

interface Removed {
  view: string;
  title: string;
}

/** Which of the viewer's views is open, and a way to the others: no change lands where one does not know. */
export function ViewSwitch() {
  const view = usePage((s) => s.page.view);
  const go = useGo();
  const before = useHistoryState<{ removed?: Removed } | null>();
  const [naming, setNaming] = useState<ViewNaming>();
  const [isWanted, setWanted] = useState(false);
  const [isSharing, setSharing] = useState(false);
  const [opened, setOpened] = useState<'differences' | 'promote'>();
  const [problem, run] = useTold();
  const change = useViews();
  const name = view.title ?? (view.isPersonal ? 'My view' : 'As published');
  const title = view.owner === null ? name : `${name} of ${view.owner}`;
  /** Another view has tabs and picks of its own: nothing of this one goes with it. */
  const open = (name: string, gone?: Removed) =>
    go(`?${new URLSearchParams({ view: name })}`, { state: { removed: gone } });
  // Said where the viewer went from it.
  const removed = view.named.some((v) => v.view === before?.removed?.view) ? undefined : before?.removed;
  if (!view.mayMake && view.sharedWithMe.length === 0 && view.owner === null && lookedAs === undefined) return null;
  const button = (
    <Button
      size="compact-sm"
      variant="subtle"
      className={classes.viewSwitch}
      classNames={{ label: classes.viewName }}
      rightSection={<ChevronDown size={14} aria-hidden />}
      aria-label={`View: ${title}`}
      aria-haspopup="menu"
      title="Which of your views is open"
      onPointerEnter={() => void loadMenu().catch(() => undefined)}
      onFocus={() => void loadMenu().catch(() => undefined)}
      onClick={() => setWanted(true)}
    >
      {title}
    </Button>
  );
  return (
    <>
      {isWanted ? (
        <Suspense fallback={button}>
          <ViewMenu
            title={title}
            onOpen={open}
            onNaming={setNaming}
            onShare={() => setSharing(true)}
            onCompare={() => setOpened('differences')}
            onPromote={() => setOpened('promote')}
            onFirst={() => run(() => change(view.view, 'first'))}
            onRemove={() =>
              run(async () => {
                await change(view.view, 'remove');
                open('', { view: view.view, title });
              })
            }
          />
        </Suspense>
      ) : (
        button
      )}
      {removed && (
        <span className={classes.removedView} role="status">
          {removed.title} is removed.{' '}
          <Button
            size="compact-xs"
            variant="subtle"
            onClick={() =>
              run(async () => {
                await change(removed.view, 'restore');
                open(removed.view);
              })
            }
          >
            Undo
          </Button>
        </span>
      )}
      {problem && <span role="alert">{problem}</span>}
      {opened && (
        <Suspense>
          {opened === 'promote' ? (
            <PromoteDialog onClose={() => setOpened(undefined)} />
          ) : (
            <DifferencesDialog onClose={() => setOpened(undefined)} />
          )}
        </Suspense>
      )}
      {isSharing && (
        <Suspense>
          <ShareDialog onClose={() => setSharing(false)} />
        </Suspense>
      )}
      {naming && (
        <Suspense>
          <ViewDialog naming={naming} onOpen={open} onClose={() => setNaming(undefined)} />
        </Suspense>
      )}
    </>
  );
}
