import { Button, Modal } from '@mantine/core';
import { useState } from 'react';
import { api, type Schemas, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { OneOf } from '../look/OneOf';
import classes from './design.module.css';
import type { DraftKind } from './draftInHand';
import '../look/panels.css';

type Draft = Schemas['DraftAnswer'];

interface Props {
  kind: DraftKind;
  name: string;
  step: number;
  clashes: Schemas['Clash'][];
  onMerged: (draft: Draft) => void;
  onClose: () => void;
}

/** The lines that both changed, side by side: for each it is said whose stay. */
export default function MergeDialog({ kind, name, step, clashes, onMerged, onClose }: Props) {
  const [choices, setChoices] = useState<('mine' | 'theirs' | undefined)[]>(clashes.map(() => undefined));
  const [problem, run] = useTold();
  const merge = () =>
    run(async () => {
      const answer = await unwrap(
        api.POST('/api/drafts/{kind}/{name}/merge', {
          params: { path: { kind, name } },
          body: { step, choices: choices.map((c) => c ?? 'mine') },
        }),
      );
      if (answer.draft) onMerged(answer.draft);
    });
  return (
    <Modal
      opened
      onClose={onClose}
      size="min(900px, 92vw)"
      title="Lines that both of you changed"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <p className="quiet">All other changes of both go together. Nothing is stored before each of these is settled.</p>
      {clashes.map((c, i) => (
        <section key={`${c.line} ${c.mine}`} aria-label={`From line ${c.line}`} className={classes.clash}>
          <div className={classes.clashSides}>
            <div>
              <h4>Yours, from line {c.line}</h4>
              <pre>{c.mine || '(nothing)'}</pre>
            </div>
            <div>
              <h4>What was published</h4>
              <pre>{c.theirs || '(nothing)'}</pre>
            </div>
          </div>
          <OneOf
            aria-label={`Which stays from line ${c.line}`}
            data={[
              { value: 'mine', label: 'Yours stays' },
              { value: 'theirs', label: 'Theirs stays' },
            ]}
            value={choices[i] ?? ''}
            onChange={(v) => setChoices(choices.map((old, j) => (j === i ? (v as 'mine' | 'theirs') : old)))}
          />
        </section>
      ))}
      {problem && <p role="alert">{problem}</p>}
      <div className={classes.bar} style={{ marginTop: 12 }}>
        <Button disabled={choices.some((c) => c === undefined)} onClick={merge}>
          Take them in
        </Button>
        <Button variant="default" onClick={onClose}>
          Not yet
        </Button>
      </div>
    </Modal>
  );
}
