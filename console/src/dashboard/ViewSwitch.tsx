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
const dialogs = {
  differences: lazy(() => import('../arrange/DifferencesDialog')),
  promote: lazy(() => import('../arrange/PromoteDialog')),
  share: lazy(() => import('./ShareDialog')),
};
const ViewDialog = lazy(() => import('./ViewDialog'));

interface Removed {
  view: string;
  title: string;
}

/** Which of the viewer's views is open, and a way to the others: no change lands where one does not know. */
export function ViewSwitch() {
  const view = usePage((s) => s.page.view);
  const go = useGo();
  const [naming, setNaming] = useState<ViewNaming>();
  const [isWanted, setWanted] = useState(false);
  const [opened, setOpened] = useState<keyof typeof dialogs>();
  const [problem, run] = useTold();
  const change = useViews();
  const name = view.title ?? (view.isPersonal ? 'My view' : 'As published');
  const title = view.owner === null ? name : `${name} of ${view.owner}`;
  /** Another view has tabs and picks of its own: nothing of this one goes with it. */
  const open = (name: string, gone?: Removed) =>
    go(`?${new URLSearchParams({ view: name })}`, { state: { removed: gone } });
  const andOpen = (changed: Promise<unknown>, name: string, gone?: Removed) =>
    run(() => changed.then(() => open(name, gone)));
  if (!view.mayMake && view.sharedWithMe.length === 0 && view.owner === null && lookedAs === undefined) return null;
  const button = <Opening title={title} onClick={() => setWanted(true)} />;
  const Dialog = opened && dialogs[opened];
  return (
    <>
      {isWanted ? (
        <Suspense fallback={button}>
          <ViewMenu
            title={title}
            onOpen={open}
            onNaming={setNaming}
            onShare={() => setOpened('share')}
            onCompare={() => setOpened('differences')}
            onPromote={() => setOpened('promote')}
            onFirst={() => run(() => change(view.view, 'first'))}
            onRemove={() => andOpen(change(view.view, 'remove'), '', { view: view.view, title })}
          />
        </Suspense>
      ) : (
        button
      )}
      <Gone onUndo={(gone) => andOpen(change(gone, 'restore'), gone)} />
      {problem && <span role="alert">{problem}</span>}
      {Dialog && (
        <Suspense>
          <Dialog onClose={() => setOpened(undefined)} />
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

/** The name of the open view; its menu comes with the first click. */
function Opening({ title, onClick }: { title: string; onClick: () => void }) {
  const load = () => void loadMenu().catch(() => undefined);
  return (
    <Button
      size="compact-sm"
      variant="subtle"
      className={classes.viewSwitch}
      classNames={{ label: classes.viewName }}
      rightSection={<ChevronDown size={14} aria-hidden />}
      aria-label={`View: ${title}`}
      aria-haspopup="menu"
      title="Which of your views is open"
      onPointerEnter={load}
      onFocus={load}
      onClick={onClick}
    >
      {title}
    </Button>
  );
}

/** The view that the viewer came from by removing it, and a way to have it back. */
function Gone({ onUndo }: { onUndo: (view: string) => void }) {
  const named = usePage((s) => s.page.view.named);
  const removed = useHistoryState<{ removed?: Removed } | null>()?.removed;
  if (!removed || named.some((v) => v.view === removed.view)) return null;
  return (
    <span className={classes.removedView} role="status">
      {removed.title} is removed.{' '}
      <Button size="compact-xs" variant="subtle" onClick={() => onUndo(removed.view)}>
        Undo
      </Button>
    </span>
  );
}
