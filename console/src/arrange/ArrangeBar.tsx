import { ActionIcon, Button, Menu, Modal, TextInput } from '@mantine/core';
import { Check, EyeOff, Plus, Redo2, RotateCcw, Undo2 } from 'lucide-react';
import { type FormEvent, useState } from 'react';
import type { DashboardPage, TabInfo } from '../api/client';
import classes from './arrange.module.css';
import type { Naming, View } from './useView';
import '../look/panels.css';

interface Props {
  page: DashboardPage;
  tab?: TabInfo;
  view: View;
  onDone: () => void;
  onOpen: (tab: string) => void;
}

/** What can be done while arranging, and where it lands. */
export default function ArrangeBar({ page, tab, view, onDone, onOpen }: Props) {
  const hidden = page.tabs.flatMap((t) => t.tiles.filter((x) => x.hidden).map((x) => ({ tile: x, tab: t })));
  const { canUndo, canRedo, isPersonal } = page.view;

  return (
    <section className={classes.bar} aria-label="Arrange">
      <span>
        Changes are kept in <b>your own view</b>; others do not see them.
      </span>
      <div className={classes.actions}>
        <ActionIcon variant="default" aria-label="Undo" disabled={canUndo === 0} onClick={() => view.step('undo')}>
          <Undo2 size={16} aria-hidden />
        </ActionIcon>
        <ActionIcon variant="default" aria-label="Redo" disabled={canRedo === 0} onClick={() => view.step('redo')}>
          <Redo2 size={16} aria-hidden />
        </ActionIcon>
        <Button
          size="xs"
          variant="default"
          leftSection={<RotateCcw size={14} aria-hidden />}
          disabled={!isPersonal}
          onClick={() => view.edit({ edit: 'reset' })}
        >
          Back to the opening view
        </Button>
        <Menu position="bottom-end" withinPortal>
          <Menu.Target>
            <Button
              size="xs"
              variant="default"
              leftSection={<EyeOff size={14} aria-hidden />}
              disabled={hidden.length === 0}
            >
              Hidden ({hidden.length})
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            {hidden.map(({ tile, tab: on }) => (
              <Menu.Item key={tile.name} onClick={() => view.edit({ edit: 'unhide', tile: tile.name })}>
                Show {tile.title} <span className="quiet">on {on.title}</span>
              </Menu.Item>
            ))}
          </Menu.Dropdown>
        </Menu>
        <Button
          size="xs"
          variant="default"
          leftSection={<Plus size={14} aria-hidden />}
          onClick={() => view.askName({ title: '' })}
        >
          Add tab
        </Button>
        <Button size="xs" leftSection={<Check size={14} aria-hidden />} onClick={onDone}>
          Done
        </Button>
      </div>
      {view.naming && (
        <NameDialog
          naming={view.naming}
          taken={page.tabs.map((t) => t.name)}
          view={view}
          onOpen={onOpen}
          open={tab?.name}
        />
      )}
    </section>
  );
}

/** Asks for the title of a new tab, or another title of one. */
function NameDialog({
  naming,
  taken,
  view,
  onOpen,
}: {
  naming: Naming;
  taken: string[];
  view: View;
  onOpen: (tab: string) => void;
  open?: string;
}) {
  const [title, setTitle] = useState(naming.title);

  async function save(event: FormEvent) {
    event.preventDefault();
    const trimmed = title.trim();
    if (!trimmed) return;
    if (naming.tab) await view.edit({ edit: 'rename-tab', tab: naming.tab, title: trimmed });
    else {
      let number = 1;
      while (taken.includes(`own-${number}`)) number++;
      if (await view.edit({ edit: 'add-tab', tab: `own-${number}`, title: trimmed })) onOpen(`own-${number}`);
    }
    view.askName(undefined);
  }

  return (
    <Modal
      opened
      onClose={() => view.askName(undefined)}
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
