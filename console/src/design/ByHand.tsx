import { Button, Select } from '@mantine/core';
import { Plus } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import { useAddressQuery } from '../route';
import '../look/panels.css';
import '../pictures/parts/controls.css';
import { DropStrip } from './DropStrip';
import classes from './design.module.css';
import { FieldList } from './FieldList';
import { TileForm, Written } from './TileForm';
import { type Designing, useDesign } from './useDesign';
import { freeName, itemsOf, landings, tilesOf, word } from './written';

const AddTile = lazy(() => import('./AddTile'));

/** Designing without typing a key: the tile that is worked on, or the page; and what it can be made of. */
export default function ByHand() {
  const design = useDesign() as Designing;
  const [isAdding, setAdding] = useState(false);
  const [said, setSaid] = useState('');
  const [dataset, setDataset] = useState<string>();
  const tiles = tilesOf(design.said);
  const tile = tiles.find((t) => t.name === design.selected);
  const tab = useOpenTab();
  const own = tile && word(tile.says.dataset);
  const shown = dataset ?? own ?? tiles.map((t) => word(t.says.dataset)).find(Boolean) ?? design.datasets[0]?.name;
  if (design.said === undefined)
    return (
      <p role="alert">
        The text can’t be read; mend it there, or undo the last step. Then it can be changed by hand again.
      </p>
    );
  return (
    <div className={classes.byHand}>
      <div className={classes.bar}>
        <Button size="compact-sm" leftSection={<Plus size={14} aria-hidden />} onClick={() => setAdding(true)}>
          New tile
        </Button>
        {tile ? (
          <Button size="compact-sm" variant="default" onClick={() => design.select(undefined)}>
            Done with {tile.name}
          </Button>
        ) : (
          <span className="quiet">A tile’s pencil, or a field dropped on it, begins its design.</span>
        )}
      </div>
      {tile ? <TileForm key={tile.name} tile={tile} /> : <PageForm tab={tab} />}
      {tile && (
        <>
          <DropStrip tile={tile} />
          <FieldList
            datasets={design.datasets}
            dataset={shown}
            onDataset={setDataset}
            hint="A click adds it to the tile where it fits; dragged onto any tile it shows what it would become."
            onClick={(carried) => {
              const picture = design.pictures.find((p) => p.name === word(tile.says.picture));
              const of = design.datasets.find((d) => d.name === carried.dataset);
              const lands = picture ? landings(tile, picture, of, carried) : [];
              const first = lands.find((l) => !l.unfit);
              setSaid(first ? '' : `${carried.title} does not fit here: ${lands.map((l) => l.unfit).join('; ')}.`);
              if (first) void design.take(first.steps);
            }}
          />
          {said && <p role="status">{said}</p>}
        </>
      )}
      {isAdding && (
        <Suspense>
          <AddTile
            tab={tab}
            dataset={shown}
            onClose={(added) => {
              setAdding(false);
              if (added) design.select(added);
            }}
          />
        </Suspense>
      )}
    </div>
  );
}

/** The tab that is open on the page beside. */
function useOpenTab(): string {
  const design = useDesign() as Designing;
  const [query] = useAddressQuery();
  const said = design.said as { tabs?: unknown } | undefined;
  const tabs = itemsOf(said?.tabs as never).map((t) => word(t.tab) ?? '');
  const asked = query.get('tab') ?? '';
  return tabs.includes(asked) ? asked : (tabs[0] ?? '');
}

/** What is said of the dashboard and of its open tab. */
function PageForm({ tab: name }: { tab: string }) {
  const design = useDesign() as Designing;
  const said = design.said as Record<string, never>;
  const tabs = itemsOf(said.tabs);
  const tab = tabs.find((t) => t.tab === name);
  const set = (at: string[], value: string | number | undefined, before: unknown) =>
    value === undefined && before === undefined
      ? undefined
      : void design.take([value === undefined ? { do: 'remove', at } : { do: 'set', at, value: value as never }]);
  return (
    <section aria-label="The dashboard" className={classes.form}>
      <h3 className={classes.formTitle}>The dashboard</h3>
      <Written label="Title" value={word(said.title)} onWrite={(v) => set(['title'], v, said.title)} />
      <Written
        label="Description"
        isLong
        value={word(said.description)}
        onWrite={(v) => set(['description'], v, said.description)}
      />
      {tab && (
        <>
          <h3 className={classes.formTitle}>Its tab {word(tab.title) ?? name}</h3>
          <Written
            label="Title of the tab"
            value={word(tab.title)}
            onWrite={(v) => set(['tabs', name, 'title'], v, tab.title)}
          />
          {itemsOf(tab.groups).map((g) => (
            <Written
              key={word(g.group)}
              label={`Title of the group ${word(g.group)}`}
              value={word(g.title)}
              onWrite={(v) => set(['tabs', name, 'groups', word(g.group) ?? '', 'title'], v, g.title)}
            />
          ))}
          {itemsOf(tab.sections).map((s) => (
            <Written
              key={word(s.section)}
              label={`Title of the section ${word(s.section)}`}
              value={word(s.title)}
              onWrite={(v) => set(['tabs', name, 'sections', word(s.section) ?? '', 'title'], v, s.title)}
            />
          ))}
        </>
      )}
      <div className={classes.bar}>
        {tab && (
          <Button
            size="compact-sm"
            variant="default"
            onClick={() => {
              const section = freeName(
                itemsOf(tab.sections).map((s) => word(s.section) ?? ''),
                'section',
              );
              void design.take([
                {
                  do: 'insert',
                  at: ['tabs', name, 'sections'],
                  value: { section, title: 'New section' } as never,
                },
              ]);
            }}
          >
            New section
          </Button>
        )}
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => {
            const tabName = freeName(
              tabs.map((t) => word(t.tab) ?? ''),
              'tab',
            );
            void design.arrange({ edit: 'add-tab', tab: tabName, title: 'New tab' });
          }}
        >
          New tab
        </Button>
      </div>
      <Select
        label="Design the tile"
        placeholder="Choose a tile"
        searchable
        data={tilesOf(design.said)
          .filter((t) => t.tab === name)
          .map((t) => ({ value: t.name, label: word(t.says.title) ? `${t.name} – ${word(t.says.title)}` : t.name }))}
        value={null}
        onChange={(v) => v && design.select(v)}
      />
    </section>
  );
}
