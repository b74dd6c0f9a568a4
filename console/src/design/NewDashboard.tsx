import { Button, Modal, Select, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, unwrap } from '../api/client';
import { ownPrefix } from '../api/draft';
import { useTold } from '../api/useTold';
import { Refit, type Wish } from './Refit';
import { emptyOf, nameFrom, starterOf } from './starter';
import '../look/panels.css';
import '../pictures/parts/controls.css';

/** What a new dashboard can begin with beside the others; names of dashboards have no spaces. */
const starter = ' figures';
const empty = ' nothing';

/** What can be chosen by its title. */
interface Line {
  name: string;
  title: string;
}

/** The way to a new dashboard: what it is called and over which dataset; what it begins with is a draft, seen by nobody else. */
export default function NewDashboard({
  known,
  drafted,
  isOwn,
  onClose,
}: {
  known: Line[];
  /** The names of drafts that are no dashboards yet, too. */
  drafted: string[];
  /** True for one that only its maker has. */
  isOwn: boolean;
  onClose: () => void;
}) {
  const [title, setTitle] = useState('');
  const [dataset, setDataset] = useState<string | null>(null);
  const [from, setFrom] = useState(starter);
  const [wishes, setWishes] = useState<Wish[]>([]);
  const [problem, run] = useTold();
  const datasets = useQuery({ queryKey: ['datasets'], queryFn: () => unwrap(api.GET('/api/datasets')) });
  const stem = nameFrom(title);
  const name = isOwn && stem ? `${ownPrefix}${stem}`.slice(0, 64) : stem;
  const isTaken = drafted.includes(name) || known.some((d) => d.name === name);
  const params = { path: { kind: 'dashboards', name } };
  const isCopy = from !== starter && from !== empty;
  const refit = useQuery({
    queryKey: ['refit', from, wishes],
    enabled: isCopy,
    placeholderData: (before) => (isCopy ? before : undefined),
    gcTime: 0,
    queryFn: () => refitted(isOwn ? `${ownPrefix}example` : 'example'),
  });
  const refitted = (as: string) =>
    unwrap(
      api.POST('/api/drafts/dashboards/{dashboard}/refit', {
        params: { path: { dashboard: as } },
        body: { of: from, title: title.trim(), datasets: wishes },
      }),
    );
  const save = (text: string) =>
    unwrap(api.PUT('/api/drafts/{kind}/{name}', { params, body: { text, after: 0, joins: false } }));
  const begin = () =>
    run(async () => {
      const of = datasets.data?.find((d) => d.name === dataset);
      if (from === starter) {
        if (!of) return;
        await save(starterOf(name, title.trim(), of));
      } else if (from === empty) await save(emptyOf(name, title.trim()));
      // To the letter, but for its name, its title, and what stands for its data.
      else await save((await refitted(name)).text);
      window.location.assign(`/d/${encodeURIComponent(name)}/design`);
    });
  return (
    <Modal
      opened
      onClose={onClose}
      title={isOwn ? 'New dashboard of your own' : 'New dashboard'}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <TextInput
        label="Title"
        value={title}
        maxLength={120}
        onChange={(e) => setTitle(e.currentTarget.value)}
        error={isTaken ? `There is a dashboard ${name} already.` : undefined}
        description={
          !name ? 'With a letter of A to Z.' : isOwn ? 'Nobody else sees it.' : `Its file is dashboards/${name}.yaml.`
        }
        data-autofocus
      />
      <BeginsWith
        known={known}
        from={from}
        onFrom={(v) => {
          setFrom(v);
          setWishes([]);
        }}
      />
      {isCopy && refit.error && <p role="alert">{refit.error.message}</p>}
      {isCopy && refit.data && !refit.error && (
        <Refit found={refit.data} datasets={datasets.data ?? []} wishes={wishes} onWish={setWishes} />
      )}
      {from === starter && <OverDataset datasets={datasets.data ?? []} dataset={dataset} onChange={setDataset} />}
      {problem && <p role="alert">{problem}</p>}
      <Button disabled={!name || isTaken || (from === starter && !dataset) || (isCopy && !refit.data)} onClick={begin}>
        {isOwn ? 'Make it' : 'Begin the draft'}
      </Button>
    </Modal>
  );
}

/** What is there when the draft is first seen: figures, nothing, or what another dashboard has. */
function BeginsWith({ known, from, onFrom }: { known: Line[]; from: string; onFrom: (from: string) => void }) {
  return (
    <Select
      mt="sm"
      label="It begins with"
      searchable
      allowDeselect={false}
      data={[
        { value: starter, label: 'First figures of a dataset' },
        { value: empty, label: 'An empty page' },
        { group: 'A copy of', items: known.map((d) => ({ value: d.name, label: d.title })) },
      ]}
      value={from}
      onChange={(v) => v && onFrom(v)}
    />
  );
}

/** The dataset of the first figures. */
function OverDataset({
  datasets,
  dataset,
  onChange,
}: {
  datasets: Line[];
  dataset: string | null;
  onChange: (dataset: string | null) => void;
}) {
  return (
    <>
      <Select
        mt="sm"
        label="Over the dataset"
        placeholder="Choose a dataset"
        searchable
        data={datasets.map((d) => ({ value: d.name, label: d.title }))}
        value={dataset}
        onChange={onChange}
      />
      <p className="quiet">Its first measures as figures, along time and by what can be told apart.</p>
    </>
  );
}
