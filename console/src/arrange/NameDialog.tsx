import { Button, Modal, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import type { DashboardPage, ViewEdit } from '../api/client';
import { useDispatch } from '../dashboard/usePage';
import type { Naming } from '../model/page/state';
import classes from './arrange.module.css';
import { ownName } from './ownName';
import '../look/panels.css';

/** Asks for a title: of a new tab, a copy or an empty page, or another of one that is there. */
export function NameDialog({ naming, page, area }: { naming: Naming; page: DashboardPage; area: string | null }) {
  const [title, setTitle] = useState(naming.title);
  const dispatch = useDispatch();
  const isOld = naming.tab !== undefined || naming.tile !== undefined;

  function edit(title: string): ViewEdit {
    if (naming.tile) return { edit: 'retitle', tile: naming.tile, title };
    if (naming.tab) return { edit: 'rename-tab', tab: naming.tab, title };
    if (naming.copyOf) return { edit: 'copy-tab', tab: naming.copyOf, as: ownName(page, 'tab'), title };
    if (naming.isEmptyPage) return { edit: 'clear', tab: ownName(page, 'tab'), title };
    return { edit: 'add-tab', tab: ownName(page, 'tab'), title, area };
  }

  function save(event: FormEvent) {
    event.preventDefault();
    const trimmed = title.trim();
    if (trimmed) dispatch({ type: 'edit', edit: edit(trimmed) });
  }

  const heading = naming.tile
    ? 'Give the tile a title'
    : naming.tab
      ? 'Rename the tab'
      : naming.copyOf
        ? 'Copy the tab'
        : naming.isEmptyPage
          ? 'Begin with an empty page'
          : 'Add a tab';
  return (
    <Modal
      opened
      onClose={() => dispatch({ type: 'name tab' })}
      title={heading}
      size="sm"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <form onSubmit={save} className={classes.form}>
        {naming.isEmptyPage && (
          <p className="quiet">The other tabs are hidden, and can be shown again. Fill the page with Add tiles.</p>
        )}
        <TextInput
          label="Title"
          data-autofocus
          maxLength={naming.tile ? 100 : 60}
          value={title}
          onChange={(e) => setTitle(e.currentTarget.value)}
          required
        />
        <Button type="submit">
          {isOld ? 'Rename' : naming.isEmptyPage ? 'Begin' : naming.copyOf ? 'Copy' : 'Add'}
        </Button>
      </form>
    </Modal>
  );
}
