import { Button, Drawer, TextInput } from '@mantine/core';
import { useInViewport } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { Plus, Search } from 'lucide-react';
import { useState } from 'react';
import { api, lines, type Schemas, type TabInfo, type TileResult, unwrap, zone } from '../api/client';
import { useDispatch, usePage } from '../dashboard/usePage';
import { pictureOf } from '../pictures';
import { noFigures, type PictureProps } from '../pictures/PictureProps';
import { Shown } from '../pictures/Shown';
import classes from './arrange.module.css';
import { ownName, sectionFor } from './ownName';
import '../look/panels.css';

type Shared = Schemas['SharedTileInfo'];

/** The catalogues: tiles to add to the open tab, each with a small picture of what it shows. */
export default function CatalogueSheet({ tab, onClose }: { tab: TabInfo; onClose: () => void }) {
  const page = usePage((s) => s.page);
  const dispatch = useDispatch();
  const [search, setSearch] = useState('');
  const [added, setAdded] = useState<string>();
  const { view } = page.view;
  const catalogues = useQuery({
    queryKey: ['catalogues', page.name, page.version, view],
    queryFn: () =>
      unwrap(
        api.GET('/api/dashboards/{dashboard}/catalogues', {
          params: { path: { dashboard: page.name }, query: { view } },
        }),
      ),
  });
  const wanted = search.trim().toLowerCase();
  const found = (catalogues.data ?? [])
    .map((c) => ({
      ...c,
      tiles: c.tiles.filter(({ tile: t }) =>
        [t.title, t.description, c.title, t.datasetName].some((text) => text?.toLowerCase().includes(wanted)),
      ),
    }))
    .filter((c) => c.tiles.length > 0);

  function add(shared: Shared) {
    const name = ownName(page, shared.shared.split('/')[1] ?? 'tile');
    const section = sectionFor(tab);
    dispatch({ type: 'edit', edit: { edit: 'add-tile', tile: name, shared: shared.shared, tab: tab.name, section } });
    setAdded(shared.tile.title);
  }

  return (
    <Drawer
      opened
      onClose={onClose}
      // The page stays in reach: a tile is dropped on it.
      withOverlay={false}
      lockScroll={false}
      trapFocus={false}
      position="right"
      size={420}
      title={`Add tiles to ${tab.title}`}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <TextInput
        label="Find"
        placeholder="A title, a catalogue, what it is about"
        leftSection={<Search size={14} aria-hidden />}
        value={search}
        onChange={(e) => setSearch(e.currentTarget.value)}
        data-autofocus
      />
      <p className="quiet" role="status">
        {added
          ? `${added} was added to ${tab.title}.`
          : 'Drag a tile to where you want it, or add it below the others. What you add is yours, and part of your view only.'}
      </p>
      {catalogues.error && <p role="alert">{catalogues.error.message}</p>}
      {catalogues.data && found.length === 0 && (
        <p>{wanted ? `No tile has ${search.trim()} in it.` : 'There is no catalogue that you may add from.'}</p>
      )}
      {found.map((c) => (
        <section key={c.name} aria-label={c.title}>
          <h2 style={{ fontSize: 15, margin: 0 }}>{c.title}</h2>
          {c.description && <p className="quiet">{c.description}</p>}
          <ul className={classes.sheetList}>
            {c.tiles.map((t) => (
              <Offer key={t.shared} shared={t} onAdd={() => add(t)} />
            ))}
          </ul>
        </section>
      ))}
    </Drawer>
  );
}

function Offer({ shared, onAdd }: { shared: Shared; onAdd: () => void }) {
  const page = usePage((s) => s.page);
  const dispatch = useDispatch();
  const { ref, inViewport } = useInViewport();
  const { tile } = shared;
  const { view } = page.view;
  const [wasSeen, setSeen] = useState(false);
  if (inViewport && !wasSeen) setSeen(true);
  const preview = useQuery({
    queryKey: ['preview', page.name, page.version, view, shared.shared],
    enabled: wasSeen && tile.dataset !== null,
    retry: false,
    queryFn: async ({ signal }) => {
      const body = {
        tiles: null,
        selections: null,
        viewing: { parameters: null, zone, view },
        shared: [shared.shared],
      };
      const at = `/api/dashboards/${encodeURIComponent(page.name)}/results`;
      for await (const line of lines<TileResult>(at, body, signal)) return line;
      throw new Error('There is no answer.');
    },
  });
  const result = preview.data;
  return (
    <li
      ref={ref}
      className={classes.shared}
      draggable
      onDragStart={(event) => {
        event.dataTransfer.effectAllowed = 'copy';
        event.dataTransfer.setData('text/plain', tile.title);
        const { width, height } = tile.place;
        dispatch({ type: 'carry', tile: { shared: shared.shared, width, height } });
      }}
      onDragEnd={() => dispatch({ type: 'carry' })}
    >
      <div className={classes.sharedHead}>
        <h3>{tile.title}</h3>
        <Button
          size="compact-xs"
          variant="default"
          leftSection={<Plus size={12} aria-hidden />}
          aria-label={`Add ${tile.title}`}
          onClick={onAdd}
        >
          Add
        </Button>
      </div>
      {tile.description && <span className="quiet">{tile.description}</span>}
      <div className={classes.preview} aria-hidden inert>
        {(result?.table || tile.dataset === null) && (
          <Shown
            kind={pictureOf(tile)}
            tile={tile}
            result={(result ?? noFigures) as PictureProps['result']}
            weekStarts={page.weekStarts}
            onSelect={() => undefined}
            onFind={async () => ({ members: [], lines: 0, names: null })}
          />
        )}
        {(preview.error || result?.problem) && (
          <span className="quiet">{preview.error?.message ?? result?.problem?.detail}</span>
        )}
      </div>
    </li>
  );
}
