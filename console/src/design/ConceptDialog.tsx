import { Button, Modal, Select } from '@mantine/core';
import { useState } from 'react';
import { api, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { type Dataset, isDate, type Said, word } from './written';
import '../look/panels.css';
import '../pictures/parts/controls.css';

interface Props {
  /** The field that is picked on the tile that is to drive. */
  field: string;
  driver: Dataset;
  follower: Dataset;
  onClose: () => void;
}

const draftOf = (dataset: string) =>
  unwrap(api.GET('/api/drafts/{kind}/{name}', { params: { path: { kind: 'datasets', name: dataset } } }));

const fieldsIn = (said: unknown): Record<string, { [key: string]: Said }> =>
  (said as { fields?: Record<string, { [key: string]: Said }> } | undefined)?.fields ?? {};

/** Data that no field links are linked by a concept: it is said which field of the others means the same. */
export default function ConceptDialog({ field, driver, follower, onClose }: Props) {
  const own = driver.fields.find((f) => f.name === field);
  const [chosen, setChosen] = useState<string | null>(null);
  const [written, setWritten] = useState<string[]>();
  const [problem, run] = useTold();
  const alike = follower.fields.filter((f) => f.kind === own?.kind || (isDate(f.kind) && isDate(own?.kind ?? '')));
  const write = () =>
    run(async () => {
      if (!chosen) return;
      const mine = fieldsIn((await draftOf(driver.name)).written?.said)[field];
      const theirs = fieldsIn((await draftOf(follower.name)).written?.said)[chosen];
      const concept = word(mine?.concept) ?? word(theirs?.concept) ?? field.replaceAll('_', '-');
      const changed: string[] = [];
      for (const [dataset, name, says] of [
        [driver.name, field, mine],
        [follower.name, chosen, theirs],
      ] as const) {
        if (word(says?.concept) === concept) continue;
        await unwrap(
          api.POST('/api/drafts/{kind}/{name}/steps', {
            params: { path: { kind: 'datasets', name: dataset } },
            body: { steps: [{ do: 'set', at: ['fields', name, 'concept'], value: concept }] },
          }),
        );
        changed.push(dataset);
      }
      setWritten(changed);
    });
  return (
    <Modal opened onClose={onClose} title="What links the two" closeButtonProps={{ 'aria-label': 'Close' }}>
      {written ? (
        <>
          <p>
            It is written into {written.length === 1 ? 'a draft' : 'drafts'} of yours. Once published, what is picked
            here filters there.
          </p>
          <ul>
            {written.map((d) => (
              <li key={d}>
                <a href={`/data/${encodeURIComponent(d)}/change`}>Look at the draft of {d}</a>
              </li>
            ))}
          </ul>
        </>
      ) : (
        <>
          <p>
            {own?.title ?? field} is picked in {driver.title}; {follower.title} has no field that is said to mean the
            same.
          </p>
          {alike.length === 0 ? (
            <p>It has no field of the same type either: nothing there can be filtered by it.</p>
          ) : (
            <Select
              label={`Which field of ${follower.title} means the same?`}
              placeholder="Choose a field"
              searchable
              data={alike.map((f) => ({ value: f.name, label: f.title }))}
              value={chosen}
              onChange={setChosen}
              data-autofocus
            />
          )}
          {problem && <p role="alert">{problem}</p>}
          <Button mt="sm" disabled={!chosen} onClick={write}>
            Write it into the datasets
          </Button>
        </>
      )}
    </Modal>
  );
}
