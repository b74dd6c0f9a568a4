import { Button, Checkbox, Modal, TextInput } from '@mantine/core';
import { lazy, Suspense, useState } from 'react';
import { api, type Schemas, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { useSession } from '../session/SignedIn';
import { Beside } from './Beside';
import { Changes } from './Changes';
import classes from './design.module.css';
import type { DraftKind } from './draftInHand';
import '../look/panels.css';
import '../pictures/parts/controls.css';

const HeldAgainstData = lazy(() => import('./HeldAgainstData'));

interface Props {
  kind: DraftKind;
  name: string;
  draft: Schemas['DraftAnswer'];
  /** Where it is seen once it is published. */
  address: string;
  /** Where to go when it is thrown away. */
  after: string;
  onClose: () => void;
}

/** What is published is looked at once more, and said why. */
export default function PublishDialog({ kind, name, draft, address, after, onClose }: Props) {
  const { may } = useSession();
  const [why, setWhy] = useState('');
  const [replace, setReplace] = useState(false);
  const [faults, setFaults] = useState<string[]>([]);
  const [beside, setBeside] = useState<string[]>();
  const [problem, run] = useTold();
  const publish = () =>
    run(async () => {
      const answer = await unwrap(
        api.POST('/api/drafts/{kind}/{name}/publish', {
          params: { path: { kind, name } },
          body: { step: draft.step, why, replace },
        }),
      );
      if (answer.accepted && answer.beside?.length) setBeside(answer.beside);
      else if (answer.accepted) window.location.assign(address);
      else setFaults(answer.faults.filter((f) => f.severity === 'error').map((f) => `${f.message} ${f.remedy ?? ''}`));
    });
  if (beside) return <Published name={name} beside={beside} onClose={() => window.location.assign(address)} />;
  return (
    <Modal
      opened
      onClose={onClose}
      size="min(900px, 92vw)"
      title={draft.published === null ? `Publish ${name}, which is new` : `Publish ${name}`}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <Changes dashboard={kind === 'dashboards' ? name : undefined} draft={draft} />
      <TextInput
        mt="sm"
        label="Why"
        placeholder="A sentence for the history"
        maxLength={500}
        value={why}
        onChange={(e) => setWhy(e.currentTarget.value)}
        data-autofocus
      />
      {may.includes('define') && draft.isDraft && (
        <Suspense>
          <HeldAgainstData kind={kind} name={name} step={draft.step} path={draft.path} />
        </Suspense>
      )}
      {draft.isBehind && <Replaces checked={replace} onChange={setReplace} />}
      {problem && <p role="alert">{problem}</p>}
      {faults.map((f) => (
        <p key={f} role="alert">
          {f}
        </p>
      ))}
      <div className={classes.bar} style={{ marginTop: 12 }}>
        <Button onClick={publish}>Publish</Button>
        <Button variant="default" onClick={onClose}>
          Not yet
        </Button>
        <Button
          variant="subtle"
          color="red"
          onClick={() =>
            run(async () => {
              await unwrap(api.DELETE('/api/drafts/{kind}/{name}', { params: { path: { kind, name } } }));
              window.location.assign(after);
            })
          }
        >
          Throw the draft away
        </Button>
      </div>
    </Modal>
  );
}

/** It is published, and what of it did not come into the team's folder is told. */
function Published({ name, beside, onClose }: { name: string; beside: string[]; onClose: () => void }) {
  return (
    <Modal opened onClose={onClose} title={`${name} is published`} closeButtonProps={{ 'aria-label': 'Close' }}>
      <Beside told={beside} />
      <Button onClick={onClose}>Look at it</Button>
    </Modal>
  );
}

/** Somebody published meanwhile: theirs is replaced only where that is said. */
function Replaces({ checked, onChange }: { checked: boolean; onChange: (checked: boolean) => void }) {
  return (
    <Checkbox
      mt="sm"
      label="It replaces what somebody published since this draft was begun: the lines above that are taken away may be theirs"
      checked={checked}
      onChange={(e) => onChange(e.currentTarget.checked)}
    />
  );
}
