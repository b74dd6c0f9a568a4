import type { TileInfo } from '../../api/client';
import type { Folded } from '../brush';
import { asked, drawnAs, type Selections } from '../selections';
import { wiringOf } from '../wiring';
import type { Cells, FollowerCells, PageState } from './state';

/** At most so many cells are kept; the oldest driving tile's go first. */
const mostCells = 1_000_000;

/** What a follower's cells depend on: whatever filters it, less what is picked on the driving tile. */
export function underOf(state: PageState, driver: TileInfo, tile: TileInfo, picked: Selections): string {
  const { named, filters } = wiringOf(state.page);
  return JSON.stringify([
    driver.basis,
    tile.basis,
    state.data,
    drawnAs(driver),
    drawnAs(tile),
    picked[tile.name]?.path ?? [],
    picked[driver.name]?.path ?? [],
    Object.entries(asked(picked)).flatMap(([name, selection]) => {
      const other = name === driver.name ? undefined : named.get(name);
      return other !== undefined && filters(other, tile) ? [[name, other.basis, selection]] : [];
    }),
  ]);
}

/** The followers of a tile on the open tab, with what their cells would be worked out under. */
export function followersOf(state: PageState, driver: TileInfo): Map<string, string> {
  const { filters } = wiringOf(state.page);
  return new Map(
    state.shown
      .filter((t) => t.dataset && !t.waits && filters(driver, t))
      .map((t) => [t.name, underOf(state, driver, t, state.applied)]),
  );
}

/** A tile's figures from the cells that are there; undefined if it has to be asked for. */
export function fold(state: PageState, tile: TileInfo): (Folded & { readAt: string }) | undefined {
  const picked = state.applied;
  for (const [name, cells] of Object.entries(state.cells)) {
    const follower = cells.followers[tile.name];
    const driver = wiringOf(state.page).named.get(name);
    if (!driver || !follower?.fold || name === tile.name) continue;
    if (follower.under !== underOf(state, driver, tile, picked)) continue;
    const folded = follower.fold(picked[name], picked[tile.name]);
    if (folded) return folded;
  }
  return undefined;
}

/** The cells with those of one driving tile more: it is the newest then, and the oldest go where there are too many. */
export function withCells(
  cells: Record<string, Cells>,
  driver: string,
  followers: Record<string, FollowerCells>,
  isWhole: boolean,
): Record<string, Cells> {
  const { [driver]: before, ...others } = cells;
  const next = { ...others, [driver]: { followers: { ...before?.followers, ...followers }, isWhole } };
  if (!isWhole) return next;
  const size = (c: Cells) => Object.values(c.followers).reduce((n, f) => n + f.count, 0);
  let total = Object.values(next).reduce((n, c) => n + size(c), 0);
  for (const [name, of] of Object.entries(next)) {
    if (total <= mostCells || name === driver) break;
    total -= size(of);
    delete next[name];
  }
  return next;
}

/** Of a tile: the driving tiles whose picks the page answers for it by itself, and those that have to be asked, with the reason. */
export function answersFor(cells: Record<string, Cells>, tile: string) {
  const known = Object.entries(cells).flatMap(([driver, c]) => {
    const follower = c.followers[tile];
    return follower && driver !== tile ? [{ driver, follower }] : [];
  });
  return {
    byPage: known.filter((k) => k.follower.fold).map((k) => k.driver),
    byService: known
      .filter((k) => !k.follower.fold)
      .map((k) => ({ driver: k.driver, reason: k.follower.reason ?? 'it has too many cells' })),
  };
}
