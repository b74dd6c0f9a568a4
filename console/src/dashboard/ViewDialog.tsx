import { Button, Modal, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { api, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import classes from './dashboard.module.css';
import { usePage } from './usePage';
import { useViews, type ViewNaming } from './useViews';
import '../look/panels.css';

interface Props {
  naming: ViewNaming;
  onOpen: (view: string) => void;
  onClose: () => void;
}

/** Asks for the name of a new view, or another one for the open view. */
export default function ViewDialog({ naming, onOpen, onClose }: Props) {
  const dashboard = usePage((s) => s.page.name);
  const view = usePage((s) => s.page.view);
  const [title, setTitle] = useState(naming.isNew ? '' : (view.title ?? ''));
  const queries = useQueryClient();
  const change = useViews();
  const [problem, run] = useTold();

  async function save() {
    if (!naming.isNew) await change(view.view, 'title', title);
    else {
      const made = await unwrap(
        api.POST('/api/dashboards/{dashboard}/views', {
          params: { path: { dashboard } },
          body: { title, from: view.view, fromOpening: naming.fromOpening },
        }),
      );
      await queries.invalidateQueries({ queryKey: ['dashboards'] });
      onOpen(made.view);
    }
    onClose();
  }

  return (
    <Modal
      opened
      onClose={onClose}
      title={
        !naming.isNew
          ? 'Rename this view'
          : naming.fromOpening
            ? 'A new view, as published'
            : 'A new view from this one'
      }
      size="sm"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <form
        className={classes.viewForm}
        onSubmit={(e: FormEvent) => {
          e.preventDefault();
          if (title.trim()) run(save);
        }}
      >
        <TextInput
          label="Name"
          data-autofocus
          maxLength={60}
          value={title}
          onChange={(e) => setTitle(e.currentTarget.value)}
          required
        />
        {problem && <p role="alert">{problem}</p>}
        <Button type="submit">{naming.isNew ? 'Make it' : 'Rename'}</Button>
      </form>
    </Modal>
  );
}
