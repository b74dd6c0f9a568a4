import { Button, Menu } from '@mantine/core';
import { ChevronDown, EyeOff, History, Redo2, RotateCcw, Undo2 } from 'lucide-react';
import { lazy, Suspense, useEffect, useState } from 'react';
import type { ViewEdit } from '../api/client';
import { useDispatch, usePage } from '../dashboard/usePage';
import { IconButton } from '../look/IconButton';
import { heldInWords } from '../model/page/held';
import classes from './arrange.module.css';
import { BarEnd } from './BarEnd';
import '../look/panels.css';

const StepsPanel = lazy(() => import('./StepsPanel'));

/** What can be done while arranging, and where it lands. */
export default function ArrangeBar() {
  const [isLooking, setLooking] = useState(false);
  useUndoKeys();
  return (
    <section className={classes.bar} aria-label="Arrange">
      <WhereItLands />
      <div className={classes.actions}>
        <Steps />
        <Button
          size="xs"
          variant="default"
          leftSection={<History size={14} aria-hidden />}
          onClick={() => setLooking(true)}
        >
          Steps
        </Button>
        <BeginAnew />
        <Hidden />
        <BarEnd />
      </div>
      {isLooking && (
        <Suspense>
          <StepsPanel onClose={() => setLooking(false)} />
        </Suspense>
      )}
    </section>
  );
}

/** Which view changes are kept in, and whether they are. */
function WhereItLands() {
  const title = usePage((s) => s.page.view.title);
  const { waiting, isHeld, hasSaved } = usePage((s) => s.saving);
  return (
    <span>
      Changes are kept in{' '}
      {title === null ? (
        <b>your own view</b>
      ) : (
        <>
          your view <b>{title}</b>
        </>
      )}
      ; others see it only if you share it.{' '}
      <span role="status" className="quiet" data-saving={waiting > 0 ? (isHeld ? 'held' : 'saving') : 'saved'}>
        {isHeld ? heldInWords(waiting) : waiting > 0 ? 'Saving …' : hasSaved && 'Saved.'}
      </span>
    </span>
  );
}

/** A step back, and forth again. */
function Steps() {
  const { canUndo, canRedo } = usePage((s) => s.page.view);
  const dispatch = useDispatch();
  return (
    <>
      <IconButton
        size={28}
        variant="edged"
        aria-label="Undo"
        disabled={canUndo === 0}
        onClick={() => dispatch({ type: 'step', way: 'undo' })}
      >
        <Undo2 size={16} aria-hidden />
      </IconButton>
      <IconButton
        size={28}
        variant="edged"
        aria-label="Redo"
        disabled={canRedo === 0}
        onClick={() => dispatch({ type: 'step', way: 'redo' })}
      >
        <Redo2 size={16} aria-hidden />
      </IconButton>
    </>
  );
}

/** Back to what is published or to nothing, with what the viewer added or without. */
function BeginAnew() {
  const { tabs, view, may } = usePage((s) => s.page);
  const dispatch = useDispatch();
  const reset = (keepOwn: boolean) => dispatch({ type: 'edit', edit: { edit: 'reset', keepOwn } });
  const hasOwn = tabs.some((t) => t.own || t.tiles.some((x) => x.own));
  return (
    <Menu position="bottom-end" withinPortal>
      <Menu.Target>
        <Button
          size="xs"
          variant="default"
          leftSection={<RotateCcw size={14} aria-hidden />}
          rightSection={<ChevronDown size={12} aria-hidden />}
        >
          Begin anew
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item disabled={!view.isPersonal} onClick={() => reset(false)}>
          Back to the opening view
        </Menu.Item>
        {hasOwn && <Menu.Item onClick={() => reset(true)}>Back to the opening view, with what I added</Menu.Item>}
        {may.includes('tabs') && (
          <Menu.Item onClick={() => dispatch({ type: 'name tab', naming: { title: 'My page', isEmptyPage: true } })}>
            With an empty page
          </Menu.Item>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}

/** The tabs and tiles that the viewer has hidden, to be shown again. */
function Hidden() {
  const tabs = usePage((s) => s.page.tabs);
  const dispatch = useDispatch();
  const change = (edit: ViewEdit) => dispatch({ type: 'edit', edit });
  const hidden = tabs.flatMap((t) => t.tiles.filter((x) => x.hidden).map((x) => ({ tile: x, tab: t })));
  const hiddenTabs = tabs.filter((t) => t.hidden);
  const count = hidden.length + hiddenTabs.length;
  return (
    <Menu position="bottom-end" withinPortal>
      <Menu.Target>
        <Button size="xs" variant="default" leftSection={<EyeOff size={14} aria-hidden />} disabled={count === 0}>
          Hidden ({count})
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {hiddenTabs.map((t) => (
          <Menu.Item key={`tab ${t.name}`} onClick={() => change({ edit: 'unhide-tab', tab: t.name })}>
            Show the tab {t.title}
          </Menu.Item>
        ))}
        {hidden.map(({ tile, tab: on }) => (
          <Menu.Item key={tile.name} onClick={() => change({ edit: 'unhide', tile: tile.name })}>
            Show {tile.title} <span className="quiet">on {on.title}</span>
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

/** The keys that everybody's hands know lead back and forth. */
function useUndoKeys() {
  const dispatch = useDispatch();
  const view = usePage((s) => s.page.view);
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const isTyping = e.target instanceof HTMLElement && e.target.closest('input, textarea, [contenteditable]');
      if (isTyping || !(e.ctrlKey || e.metaKey) || e.altKey) return;
      const letter = e.key.toLowerCase();
      const way = letter === 'y' || (letter === 'z' && e.shiftKey) ? 'redo' : letter === 'z' ? 'undo' : undefined;
      if (!way) return;
      e.preventDefault();
      if (way === 'undo' ? view.canUndo > 0 : view.canRedo > 0) dispatch({ type: 'step', way });
    };
    window.addEventListener('keydown', key);
    return () => window.removeEventListener('keydown', key);
  }, [dispatch, view]);
}
