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
  approach: (driver: TileInfo) => void;
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
    (driver: TileInfo, tile: TileInfo, picked: Selections) =>
      JSON.stringify([
        version,
        data,
        drawnAs(driver),
        drawnAs(tile),
        picked[tile.name]?.path ?? [],
        picked[driver.name]?.path ?? [],
        Object.entries(asked(picked)).filter(([name]) => {
          const other = name === driver.name ? undefined : all.find((t) => t.name === name);
          return other !== undefined && mayFilter(other, tile);
        }),
      ]),
    [all, mayFilter, version, data],
  );

  const approach = useCallback(
    (driver: TileInfo) => {
      if (driver.pick === 'none') return;
      const cubes = known.current.get(driver.name) ?? new Map<string, Known>();
      known.current.delete(driver.name);
      known.current.set(driver.name, cubes); // the newest last
      const under = new Map(
        tiles.filter((t) => t.dataset && mayFilter(driver, t)).map((t) => [t.name, underOf(driver, t, selections)]),
      );
      const wanted = [...under].filter(([name, u]) => cubes.get(name)?.under !== u).map(([name]) => name);
      if (wanted.length === 0) return;
      const key = JSON.stringify([...under]);
      const before = running.current.get(driver.name);
      if (before?.under === key) return;
      before?.control.abort();
      const control = new AbortController();
      running.current.set(driver.name, { under: key, control });
      void (async () => {
        try {
          const path = `/api/dashboards/${encodeURIComponent(dashboard)}/tiles/${encodeURIComponent(driver.name)}/brush`;
          const body = { tiles: wanted, selections: asked(selections), inputs: { parameters: set, zone } };
          const loaded = adding();
          for await (const line of lines<Line>(path, body, control.signal)) {
            brush.current = await loaded;
            const prepared = line.cube ? brush.current.prepare(line.cube) : undefined;
            cubes.set(line.tile, { under: under.get(line.tile) ?? '', prepared, reason: line.reason ?? undefined });
            setReady((r) => ({ ...r, [driver.name]: summary(cubes, false) }));
          }
          setReady((r) => ({ ...r, [driver.name]: summary(cubes, true) }));
          trim(known.current);
        } catch (error) {
          // Without an index the service answers each pick, as before; the next approach tries again.
          if (!control.signal.aborted) console.warn(`No brush index of ${driver.name}:`, error);
        } finally {
          if (running.current.get(driver.name)?.control === control) running.current.delete(driver.name);
        }
      })();
    },
    [dashboard, tiles, selections, set, mayFilter, underOf],
  );

  const answer = useCallback<Brush['answer']>(
    (tile, picked) => {
      for (const [name, cubes] of known.current) {
        const cube = cubes.get(tile.name);
        const driver = all.find((t) => t.name === name);
        if (!driver || !cube?.prepared || name === tile.name || cube.under !== underOf(driver, tile, picked)) continue;
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
    [...cubes.values()].reduce((n, c) => n + (c.prepared?.driver.length ?? 0), 0);
  let total = [...known.values()].reduce((n, c) => n + cells(c), 0);
  for (const [driver, cubes] of known) {
    if (total <= mostCells || known.size === 1) return;
    total -= cells(cubes);
    known.delete(driver);
  }
}
