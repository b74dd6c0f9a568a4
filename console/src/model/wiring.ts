import type { DashboardPage, TileInfo } from '../api/client';
import { mayFilter } from './selections';

/** Which tiles a dashboard has, and which of them may filter which. */
export interface Wiring {
  /** The tiles of all tabs, in the order of the page. */
  tiles: TileInfo[];
  named: Map<string, TileInfo>;
  /** True if a selection on one tile may filter another. */
  filters: (driver: TileInfo, follower: TileInfo) => boolean;
}

const known = new WeakMap<DashboardPage, Wiring>();

/** The wiring of a page; the same object for the same page. */
export function wiringOf(page: DashboardPage): Wiring {
  const before = known.get(page);
  if (before) return before;
  const tiles = page.tabs.flatMap((t) => t.tiles);
  const tabs = new Map(page.tabs.flatMap((t) => t.tiles.map((x) => [x.name, t.name])));
  const groups = new Map(page.tabs.flatMap((t) => t.groups).map((g) => [g.name, g]));
  const wiring: Wiring = {
    tiles,
    named: new Map(tiles.map((t) => [t.name, t])),
    filters: (driver, follower) => mayFilter(driver, follower, (tile) => tabs.get(tile) ?? '', groups),
  };
  known.set(page, wiring);
  return wiring;
}
