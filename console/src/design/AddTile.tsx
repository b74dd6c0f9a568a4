import { Button, Modal, Select, Textarea } from '@mantine/core';
import { useState } from 'react';
import { Choosing } from './Choosing';
import classes from './design.module.css';
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
  const [text, setText] = useState('');
  const taken = tilesOf(design.said).map((t) => t.name);
  /** Takes a tile that is given as text, under a name that says what it shows. */
  async function take(yaml: string, name: string) {
    const free = freeName(taken, name);
    if (await design.paste(yaml.replace(/\btile: proposal-\d+/, `tile: ${free}`), tab)) onClose(free);
  }

  async function begin(kind: string, dataset: string | undefined) {
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
      <Choosing
        dashboard={design.dashboard}
        datasets={design.datasets}
        first={first}
        onTake={(one, chosen) =>
          void take(one.yaml, [chosen[0] ?? '', /picture: (\w+)/.exec(one.yaml)?.[1] ?? ''].join('-'))
        }
      >
        {(dataset) => (
          <div className={classes.form}>
            <p>What suits the chosen measures and fields is drawn here with real figures; one click takes it.</p>
            <Select
              label="Or begin with a picture"
              placeholder="Choose a kind"
              searchable
              data={design.pictures.map((p) => ({ value: p.name, label: p.name.replaceAll('_', ' ') }))}
              value={null}
              onChange={(v) => v && void begin(v, dataset)}
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
        )}
      </Choosing>
    </Modal>
  );
}
