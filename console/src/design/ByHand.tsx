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
import { freeName, itemsOf, landings, type Said, tilesOf, word } from './written';

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
  const said = design.said as { tabs?: Said } | undefined;
  const tabs = itemsOf(said?.tabs).map((t) => word(t.tab) ?? '');
  const asked = query.get('tab') ?? '';
  return tabs.includes(asked) ? asked : (tabs[0] ?? '');
}

type Keys = { [key: string]: Said };

/** What is said of the dashboard and of its open tab. */
function PageForm({ tab: name }: { tab: string }) {
  const design = useDesign() as Designing;
  const said = design.said as Record<string, Said>;
  const tabs = itemsOf(said.tabs);
  const tab = tabs.find((t) => t.tab === name);
  const set: Setting = (at, value, before) =>
    value === undefined && before === undefined
      ? undefined
      : void design.take([value === undefined ? { do: 'remove', at } : { do: 'set', at, value: value }]);
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
      {tab && <TabTitles tab={tab} name={name} set={set} />}
      <NewPlaces tabs={tabs} tab={tab} />
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

/** Puts a value, or takes out what was there before; nothing where neither is. */
type Setting = (at: string[], value: string | undefined, before: unknown) => void;

/** The titles of a tab and of what stands in it. */
function TabTitles({ tab, name, set }: { tab: Keys; name: string; set: Setting }) {
  const titles = (of: 'group' | 'section') =>
    itemsOf(tab[`${of}s`]).map((g) => (
      <Written
        key={word(g[of])}
        label={`Title of the ${of} ${word(g[of])}`}
        value={word(g.title)}
        onWrite={(v) => set(['tabs', name, `${of}s`, word(g[of]) ?? '', 'title'], v, g.title)}
      />
    ));
  return (
    <>
      <h3 className={classes.formTitle}>Its tab {word(tab.title) ?? name}</h3>
      <Written
        label="Title of the tab"
        value={word(tab.title)}
        onWrite={(v) => set(['tabs', name, 'title'], v, tab.title)}
      />
      {titles('group')}
      {titles('section')}
    </>
  );
}

/** Ways to another section of the tab, and to another tab. */
function NewPlaces({ tabs, tab }: { tabs: Keys[]; tab: Keys | undefined }) {
  const design = useDesign() as Designing;
  const free = (all: Keys[], key: string) =>
    freeName(
      all.map((i) => word(i[key]) ?? ''),
      key,
    );
  return (
    <div className={classes.bar}>
      {tab && (
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => {
            const value = { section: free(itemsOf(tab.sections), 'section'), title: 'New section' };
            void design.take([{ do: 'insert', at: ['tabs', word(tab.tab) ?? '', 'sections'], value }]);
          }}
        >
          New section
        </Button>
      )}
      <Button
        size="compact-sm"
        variant="default"
        onClick={() => void design.arrange({ edit: 'add-tab', tab: free(tabs, 'tab'), title: 'New tab' })}
      >
        New tab
      </Button>
    </div>
  );
}
