import { Button, Modal, Select, Textarea } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, unwrap } from '../api/client';
import classes from './design.module.css';
import { FieldList } from './FieldList';
import { Proposed } from './Proposed';
import { type Designing, useDesign } from './useDesign';
import { freeName, isDate, type Said, tilesOf } from './written';

interface Props {
  tab: string;
  dataset: string | undefined;
  /** @param added The name of the tile that was made. */
  onClose: (added?: string) => void;
}

/** The way to a new tile: measures and fields are chosen, and what suits them is shown with real figures, to be taken with a click. */
export default function AddTile({ tab, dataset: first, onClose }: Props) {
  const design = useDesign() as Designing;
  const [dataset, setDataset] = useState(first);
  const [chosen, setChosen] = useState<string[]>([]);
  const [text, setText] = useState('');
  const taken = tilesOf(design.said).map((t) => t.name);
  const proposals = useQuery({
    queryKey: ['proposals', design.dashboard, dataset, chosen],
    enabled: chosen.length > 0,
    queryFn: () =>
      unwrap(
        api.POST('/api/drafts/dashboards/{dashboard}/proposals', {
          params: { path: { dashboard: design.dashboard } },
          body: { dataset: dataset ?? null, names: chosen },
        }),
      ),
  });

  /** Takes a tile that is given as text, under a name that says what it shows. */
  async function take(yaml: string, name: string) {
    const free = freeName(taken, name);
    if (await design.paste(yaml.replace(/\btile: proposal-\d+/, `tile: ${free}`), tab)) onClose(free);
  }

  async function begin(kind: string) {
    const picture = design.pictures.find((p) => p.name === kind);
    const of = design.datasets.find((d) => d.name === dataset);
    if (!picture) return;
    const [measures, fields] = [of?.measures ?? [], of?.fields ?? []];
    const fitting = fields.filter((f) => picture.by.kinds.length === 0 || picture.by.kinds.includes(f.kind));
    // What it can't do without, so that it can be seen at once.
    const show = measures.slice(0, picture.show.least).map((m) => m.name);
    const by = fitting
      .slice(0, picture.by.least)
      .map((f) => (isDate(f.kind) && !picture.isControl ? `${f.name}.month` : f.name));
    const name = freeName(taken, kind);
    const value: Record<string, Said> = {
      tile: name,
      picture: kind,
      ...(picture.hasData && of ? { dataset: of.name } : {}),
      ...(show.length > 0 ? { show: show.length === 1 ? (show[0] as string) : show } : {}),
      ...(by.length > 0 ? { by: by.length === 1 ? (by[0] as string) : by } : {}),
      ...(kind === 'text' ? { text: 'Words for the reader.' } : {}),
    };
    if (await design.paste(JSON.stringify(value), tab)) onClose(name);
  }

  return (
    <Modal
      opened
      onClose={() => onClose()}
      size="min(1180px, 94vw)"
      title="New tile"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <div className={classes.adding}>
        <div className={classes.choosing}>
          <FieldList
            dataset={dataset}
            onDataset={(d) => {
              setDataset(d);
              setChosen([]);
            }}
            chosen={chosen.length > 0 ? chosen : [' ']}
            hint="Choose what it is to tell of: measures, and the fields to tell them by."
            onClick={({ name }) =>
              setChosen(chosen.includes(name) ? chosen.filter((n) => n !== name) : [...chosen, name])
            }
          />
        </div>
        <div>
          {chosen.length === 0 ? (
            <div className={classes.form}>
              <p>What suits the chosen measures and fields is drawn here with real figures; one click takes it.</p>
              <Select
                label="Or begin with a picture"
                placeholder="Choose a kind"
                searchable
                data={design.pictures.map((p) => ({ value: p.name, label: p.name.replaceAll('_', ' ') }))}
                value={null}
                onChange={(v) => v && void begin(v)}
              />
              <Textarea
                label="Or the text of a tile"
                description="As it was copied from another one, here or elsewhere."
                autosize
                minRows={3}
                maxRows={10}
                value={text}
                onChange={(e) => setText(e.currentTarget.value)}
              />
              <Button
                size="compact-sm"
                disabled={!text.trim()}
                onClick={async () => {
                  if (await design.paste(text, tab)) onClose();
                }}
              >
                Paste it
              </Button>
            </div>
          ) : proposals.error ? (
            <p role="alert">{proposals.error.message}</p>
          ) : proposals.data?.proposals.length === 0 ? (
            <p>No picture takes all of that at once. Choose less.</p>
          ) : (
            proposals.data && (
              <Proposed
                key={proposals.data.trial}
                dashboard={proposals.data.dashboard}
                trial={proposals.data.trial}
                onTake={(name) => {
                  const one = proposals.data.proposals.find((p) => p.tile === name);
                  if (one) void take(one.yaml, [chosen[0] ?? '', /picture: (\w+)/.exec(one.yaml)?.[1] ?? ''].join('-'));
                }}
              />
            )
          )}
        </div>
      </div>
    </Modal>
  );
}
