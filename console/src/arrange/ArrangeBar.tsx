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
  const page = usePage((s) => s.page);
  const saving = usePage((s) => s.saving);
  const dispatch = useDispatch();
  const change = (edit: ViewEdit) => dispatch({ type: 'edit', edit });
  const hidden = page.tabs.flatMap((t) => t.tiles.filter((x) => x.hidden).map((x) => ({ tile: x, tab: t })));
  const hiddenTabs = page.tabs.filter((t) => t.hidden);
  useUndoKeys();
  const { canUndo, canRedo, isPersonal } = page.view;
  const [isLooking, setLooking] = useState(false);
  const hasOwn = page.tabs.some((t) => t.own || t.tiles.some((x) => x.own));

  return (
    <section className={classes.bar} aria-label="Arrange">
      <span>
        Changes are kept in{' '}
        {page.view.title === null ? (
          <b>your own view</b>
        ) : (
          <>
            your view <b>{page.view.title}</b>
          </>
        )}
        ; others see it only if you share it.{' '}
        <span
          role="status"
          className="quiet"
          data-saving={saving.waiting > 0 ? (saving.isHeld ? 'held' : 'saving') : 'saved'}
        >
          {saving.isHeld ? heldInWords(saving.waiting) : saving.waiting > 0 ? 'Saving …' : saving.hasSaved && 'Saved.'}
        </span>
      </span>
      <div className={classes.actions}>
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
        <Button
          size="xs"
          variant="default"
          leftSection={<History size={14} aria-hidden />}
          onClick={() => setLooking(true)}
        >
          Steps
        </Button>
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
            <Menu.Item disabled={!isPersonal} onClick={() => change({ edit: 'reset', keepOwn: false })}>
              Back to the opening view
            </Menu.Item>
            {hasOwn && (
              <Menu.Item onClick={() => change({ edit: 'reset', keepOwn: true })}>
                Back to the opening view, with what I added
              </Menu.Item>
            )}
            {page.may.includes('tabs') && (
              <Menu.Item
                onClick={() => dispatch({ type: 'name tab', naming: { title: 'My page', isEmptyPage: true } })}
              >
                With an empty page
              </Menu.Item>
            )}
          </Menu.Dropdown>
        </Menu>
        <Menu position="bottom-end" withinPortal>
          <Menu.Target>
            <Button
              size="xs"
              variant="default"
              leftSection={<EyeOff size={14} aria-hidden />}
              disabled={hidden.length + hiddenTabs.length === 0}
            >
              Hidden ({hidden.length + hiddenTabs.length})
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
