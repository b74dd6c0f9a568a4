import { Button, Modal, TextInput } from '@mantine/core';
import { useState } from 'react';
import { api, type Schemas, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { Changes } from './Changes';
import classes from './design.module.css';
import '../look/panels.css';
import '../pictures/parts/controls.css';
import { whenOf } from '../look/when';

interface Props {
  name: string;
  draft: Schemas['DraftAnswer'];
  isBroken: boolean;
  /** Where to go when it is thrown away. */
  after: string;
  /** Hears of the draft once it is handed over, or taken back. */
  onDone: () => Promise<unknown>;
  onClose: () => void;
}

/** What somebody made who does not publish goes to those who do. */
export default function HandOverDialog({ name, draft, isBroken, after, onDone, onClose }: Props) {
  const [why, setWhy] = useState('');
  const [isLeaving, setLeaving] = useState(false);
  const [problem, run] = useTold();
  const params = { path: { dashboard: name } };
  const then = (act: () => Promise<unknown>) =>
    run(async () => {
      await act();
      await onDone();
      onClose();
    });
  return (
    <Modal
      opened
      onClose={onClose}
      size="min(900px, 92vw)"
      title="Hand over to those who publish"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <p>
        They get it as it is now, and may publish it for others. What you change afterwards stays yours until you hand
        it over again.
      </p>
      {draft.handedOver && (
        <p role="status">
          Handed over on {whenOf(draft.handedOver)}; nobody has taken it yet.{' '}
          <button
            type="button"
            className={classes.link}
            onClick={() => then(() => unwrap(api.DELETE('/api/drafts/dashboards/{dashboard}/hand-over', { params })))}
          >
            Take it back
          </button>
        </p>
      )}
      {draft.published !== null && <Changes dashboard={name} draft={draft} />}
      <TextInput
        mt="sm"
        label="Why"
        placeholder="A sentence for whoever takes it"
        maxLength={500}
        value={why}
        onChange={(e) => setWhy(e.currentTarget.value)}
        data-autofocus
      />
      {problem && <p role="alert">{problem}</p>}
      {isBroken && <p role="status">It has an error, and can be handed over when that is mended.</p>}
      <div className={classes.bar} style={{ marginTop: 12 }}>
        <Button
          disabled={isBroken || draft.text === draft.published}
          onClick={() =>
            then(() =>
              unwrap(
                api.POST('/api/drafts/dashboards/{dashboard}/hand-over', { params, body: { step: draft.step, why } }),
              ),
            )
          }
        >
          {draft.handedOver ? 'Hand over anew' : 'Hand over'}
        </Button>
        <Button variant="default" onClick={onClose}>
          Not yet
        </Button>
        <Button
          variant="subtle"
          color="red"
          onClick={() =>
            isLeaving
              ? run(async () => {
                  await unwrap(
                    api.DELETE('/api/drafts/{kind}/{name}', { params: { path: { kind: 'dashboards', name } } }),
                  );
                  window.location.assign(after);
                })
              : setLeaving(true)
          }
        >
          {!isLeaving
            ? 'Throw it away'
            : draft.published === null
              ? 'Throw the whole dashboard away'
              : 'Throw all changes away'}
        </Button>
      </div>
    </Modal>
  );
}
