import { Button, Modal, Select, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { nameFrom, starterOf } from './starter';
import '../look/panels.css';
import '../pictures/parts/controls.css';

/** The way to a new dashboard: what it is called and over which dataset; what it begins with is a draft, seen by nobody else. */
export default function NewDashboard({ taken, onClose }: { taken: string[]; onClose: () => void }) {
  const [title, setTitle] = useState('');
  const [dataset, setDataset] = useState<string | null>(null);
  const [problem, run] = useTold();
  const datasets = useQuery({ queryKey: ['datasets'], queryFn: () => unwrap(api.GET('/api/datasets')) });
  const name = nameFrom(title);
  const isTaken = taken.includes(name);
  const begin = () =>
    run(async () => {
      const of = datasets.data?.find((d) => d.name === dataset);
      if (!of) return;
      await unwrap(
        api.PUT('/api/drafts/{dashboard}', {
          params: { path: { dashboard: name } },
          body: { text: starterOf(name, title.trim(), of), after: 0 },
        }),
      );
      window.location.assign(`/d/${encodeURIComponent(name)}/design`);
    });
  return (
    <Modal opened onClose={onClose} title="New dashboard" closeButtonProps={{ 'aria-label': 'Close' }}>
      <TextInput
        label="Title"
        value={title}
        maxLength={120}
        onChange={(e) => setTitle(e.currentTarget.value)}
        error={isTaken ? `There is a dashboard ${name} already.` : undefined}
        description={name ? `Its file is dashboards/${name}.yaml.` : 'With a letter of A to Z.'}
        data-autofocus
      />
      <Select
        mt="sm"
        label="Over the dataset"
        placeholder="Choose a dataset"
        searchable
        data={(datasets.data ?? []).map((d) => ({ value: d.name, label: d.title }))}
        value={dataset}
        onChange={setDataset}
      />
      <p className="quiet">
        It begins with the dataset’s first measures as figures, along time and by what can be told apart.
      </p>
      {problem && <p role="alert">{problem}</p>}
      <Button disabled={!name || isTaken || !dataset} onClick={begin}>
        Begin the draft
      </Button>
    </Modal>
  );
}
