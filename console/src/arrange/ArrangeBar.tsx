import { ActionIcon, Button, Menu, Modal, TextInput } from '@mantine/core';
import { Check, EyeOff, History, Plus, Redo2, RotateCcw, Undo2 } from 'lucide-react';
import { type FormEvent, lazy, Suspense, useEffect, useState } from 'react';
import type { ViewEdit } from '../api/client';
import { useDispatch, usePage } from '../dashboard/usePage';
import type { Naming } from '../model/page/state';
import classes from './arrange.module.css';
import '../look/panels.css';

const StepsPanel = lazy(() => import('./StepsPanel'));

/** What can be done while arranging, and where it lands. */
export default function ArrangeBar() {
  const page = usePage((s) => s.page);
  const naming = usePage((s) => s.naming);
  const dispatch = useDispatch();
  const change = (edit: ViewEdit) => dispatch({ type: 'edit', edit });
  const hidden = page.tabs.flatMap((t) => t.tiles.filter((x) => x.hidden).map((x) => ({ tile: x, tab: t })));
  const hiddenTabs = page.tabs.filter((t) => t.hidden);
  useUndoKeys();
  const { canUndo, canRedo, isPersonal } = page.view;
  const [isLooking, setLooking] = useState(false);

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
        ; others see it only if you share it.
      </span>
      <div className={classes.actions}>
        <ActionIcon
          variant="default"
          aria-label="Undo"
          disabled={canUndo === 0}
          onClick={() => dispatch({ type: 'step', way: 'undo' })}
        >
          <Undo2 size={16} aria-hidden />
        </ActionIcon>
        <ActionIcon
          variant="default"
          aria-label="Redo"
          disabled={canRedo === 0}
          onClick={() => dispatch({ type: 'step', way: 'redo' })}
        >
          <Redo2 size={16} aria-hidden />
        </ActionIcon>
        <Button
          size="xs"
          variant="default"
          leftSection={<History size={14} aria-hidden />}
          onClick={() => setLooking(true)}
        >
          Steps
        </Button>
        <Button
          size="xs"
          variant="default"
          leftSection={<RotateCcw size={14} aria-hidden />}
          disabled={!isPersonal}
          onClick={() => change({ edit: 'reset' })}
        >
          Back to the opening view
        </Button>
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
        <Button
          size="xs"
          variant="default"
          leftSection={<Plus size={14} aria-hidden />}
          onClick={() => dispatch({ type: 'name tab', naming: { title: '' } })}
        >
          Add tab
        </Button>
        <Button
          size="xs"
          leftSection={<Check size={14} aria-hidden />}
          onClick={() => dispatch({ type: 'arrange', isOn: false })}
        >
          Done
        </Button>
      </div>
      {isLooking && (
        <Suspense>
          <StepsPanel onClose={() => setLooking(false)} />
        </Suspense>
      )}
      {naming && <NameDialog naming={naming} taken={page.tabs.map((t) => t.name)} />}
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

/** Asks for the title of a new tab, or another title of one. */
function NameDialog({ naming, taken }: { naming: Naming; taken: string[] }) {
  const [title, setTitle] = useState(naming.title);
  const dispatch = useDispatch();

  function save(event: FormEvent) {
    event.preventDefault();
    const trimmed = title.trim();
    if (!trimmed) return;
    let number = 1;
    while (taken.includes(`own-${number}`)) number++;
    dispatch({
      type: 'edit',
      edit: naming.tab
        ? { edit: 'rename-tab', tab: naming.tab, title: trimmed }
        : { edit: 'add-tab', tab: `own-${number}`, title: trimmed },
    });
  }

  return (
    <Modal
      opened
      onClose={() => dispatch({ type: 'name tab' })}
      title={naming.tab ? 'Rename the tab' : 'Add a tab'}
      size="sm"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <form onSubmit={save} className={classes.form}>
        <TextInput
          label="Title"
          data-autofocus
          maxLength={60}
          value={title}
          onChange={(e) => setTitle(e.currentTarget.value)}
          required
        />
        <Button type="submit">{naming.tab ? 'Rename' : 'Add'}</Button>
      </form>
    </Modal>
  );
}
