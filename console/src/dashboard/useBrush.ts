import { useCallback, useEffect, useRef, useState } from 'react';
import { lines, type Schemas, type TileInfo, zone } from '../api/client';
import type { Folded, Prepared } from '../model/brush';
import { asked, drawnAs, type Selections } from '../model/selections';
import type { Shown } from '../model/tileState';

type Line = Schemas['BrushLine'];

/** Adding cells up comes apart from the shell, with the first cells. */
const adding = () => import('../model/brush');

/** What is known of a follower of a driving tile. */
interface Known {
  /** What it was worked out under: all but what is picked on the driving tile. */
  under: string;
  prepared?: Prepared;
  /** Why the service has to be asked. */
  reason?: string;
}

/** At most so many cells are kept; the oldest driving tile's go first. */
const mostCells = 1_000_000;

export interface Brush {
  /** Brings what is needed to answer picks on a tile without asking; to be called when the viewer approaches it. */
  approach: (lead: TileInfo) => void;
  /** The answer of a tile from what was brought; undefined if it has to be asked for. */
  answer: (tile: TileInfo, selections: Selections) => (Folded & { readAt: string }) | undefined;
  /** Forgets all, since the data are read anew. */
  forget: () => void;
  /** For each driving tile: how many followers answer by themselves, and which ask and why. */
  ready: Record<string, { answered: string[]; asks: Record<string, string>; isWhole: boolean }>;
}

/** Keeps the brush indexes of a page. */
export function useBrush(
  dashboard: string,
  tiles: TileInfo[],
  all: TileInfo[],
  selections: Selections,
  { version, all: set, data }: Shown,
  mayFilter: (driver: TileInfo, follower: TileInfo) => boolean,
): Brush {
  const known = useRef(new Map<string, Map<string, Known>>());
  const brush = useRef<Awaited<ReturnType<typeof adding>>>(undefined);
  const running = useRef(new Map<string, { under: string; control: AbortController }>());
  const [ready, setReady] = useState<Brush['ready']>({});

  /** What a follower's cells depend on: whatever filters it, less what is picked on the driving tile. */
  const underOf = useCallback(
    (lead: TileInfo, tile: TileInfo, picked: Selections) =>
      JSON.stringify([
        version,
        data,
        drawnAs(lead),
        drawnAs(tile),
        picked[tile.name]?.path ?? [],
        picked[lead.name]?.path ?? [],
        Object.entries(asked(picked)).filter(([name]) => {
          const driver = name === lead.name ? undefined : all.find((t) => t.name === name);
          return driver !== undefined && mayFilter(driver, tile);
        }),
      ]),
    [all, mayFilter, version, data],
  );

  const approach = useCallback(
    (lead: TileInfo) => {
      if (lead.pick === 'none') return;
      const cubes = known.current.get(lead.name) ?? new Map<string, Known>();
      known.current.delete(lead.name);
      known.current.set(lead.name, cubes); // the newest last
      const under = new Map(
        tiles.filter((t) => t.dataset && mayFilter(lead, t)).map((t) => [t.name, underOf(lead, t, selections)]),
      );
      const wanted = [...under].filter(([name, u]) => cubes.get(name)?.under !== u).map(([name]) => name);
      if (wanted.length === 0) return;
      const key = JSON.stringify([...under]);
      const before = running.current.get(lead.name);
      if (before?.under === key) return;
      before?.control.abort();
      const control = new AbortController();
      running.current.set(lead.name, { under: key, control });
      void (async () => {
        try {
          const path = `/api/dashboards/${encodeURIComponent(dashboard)}/tiles/${encodeURIComponent(lead.name)}/brush`;
          const body = { tiles: wanted, selections: asked(selections), inputs: { parameters: set, zone } };
          const loaded = adding();
          for await (const line of lines<Line>(path, body, control.signal)) {
            brush.current = await loaded;
            const prepared = line.cube ? brush.current.prepare(line.cube) : undefined;
            cubes.set(line.tile, { under: under.get(line.tile) ?? '', prepared, reason: line.reason ?? undefined });
            setReady((r) => ({ ...r, [lead.name]: summary(cubes, false) }));
          }
          setReady((r) => ({ ...r, [lead.name]: summary(cubes, true) }));
          trim(known.current);
        } catch (error) {
          // Without an index the service answers each pick, as before; the next approach tries again.
          if (!control.signal.aborted) console.warn(`No brush index of ${lead.name}:`, error);
        } finally {
          if (running.current.get(lead.name)?.control === control) running.current.delete(lead.name);
        }
      })();
    },
    [dashboard, tiles, selections, set, mayFilter, underOf],
  );

  const answer = useCallback<Brush['answer']>(
    (tile, picked) => {
      for (const [name, cubes] of known.current) {
        const cube = cubes.get(tile.name);
        const lead = all.find((t) => t.name === name);
        if (!lead || !cube?.prepared || name === tile.name || cube.under !== underOf(lead, tile, picked)) continue;
        const folded = brush.current?.fold(cube.prepared, picked[name], picked[tile.name]);
        if (folded) return { ...folded, readAt: cube.prepared.cube.readAt };
      }
      return undefined;
    },
    [underOf, all],
  );

  const forget = useCallback(() => {
    for (const { control } of running.current.values()) control.abort();
    known.current.clear();
    setReady({});
  }, []);
  useEffect(() => forget, [forget]);
  return { approach, answer, forget, ready };
}

const summary = (cubes: Map<string, Known>, isWhole: boolean) => ({
  isWhole,
  answered: [...cubes].filter(([, c]) => c.prepared).map(([name]) => name),
  asks: Object.fromEntries(
    [...cubes].filter(([, c]) => !c.prepared).map(([name, c]) => [name, c.reason ?? 'it has too many cells']),
  ),
});

/** Lets the oldest go, so that the memory of the page stays bounded. */
function trim(known: Map<string, Map<string, Known>>) {
  const cells = (cubes: Map<string, Known>) =>
    [...cubes.values()].reduce((n, c) => n + (c.prepared?.lead.length ?? 0), 0);
  let total = [...known.values()].reduce((n, c) => n + cells(c), 0);
  for (const [lead, cubes] of known) {
    if (total <= mostCells || known.size === 1) return;
    total -= cells(cubes);
    known.delete(lead);
  }
}
