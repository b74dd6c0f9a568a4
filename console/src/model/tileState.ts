import type { TileResult } from '../api/client';

/** What is known of a tile: its last result, and whether a newer one is on the way. */
export interface TileState {
  result?: TileResult;
  /** What the figures were asked for under; those of another state are to be asked for again. */
  key?: string;
  /** What the tile was drawn of when it was asked for. */
  of?: string;
  /** True if the page worked the result out from its brush index. */
  isFolded?: boolean;
  /** True if that was done while a hand moved: the next figures are on their way with the next frame. */
  isPassing?: boolean;
  /** When the running question was asked, in milliseconds of the page's clock. */
  runningSince?: number;
  /** True if the running question is that of the figures that are shown, to have them read anew. */
  isReread?: boolean;
  /** Why there is no answer at all. */
  failure?: { detail: string; code: string; remedy?: string };
}

/** The sampled check: whether what the page worked out by itself is what the service says. */
export interface Check {
  isOn: boolean;
  checked: number;
  differences: string[];
  /** Why the last check could not be made. */
  problem?: string;
}

/** Equal cell for cell: floating-point figures to one part in a thousand million. */
export function sameTable(a: TileResult, b: TileResult): boolean {
  const same = (x: unknown, y: unknown): boolean =>
    typeof x === 'number' && typeof y === 'number'
      ? Math.abs(x - y) <= 1e-9 * Math.max(1, Math.abs(x), Math.abs(y))
      : x === y;
  const mine = (a.table?.values ?? []) as unknown[][];
  const theirs = (b.table?.values ?? []) as unknown[][];
  return (
    a.lines === b.lines &&
    mine.length === theirs.length &&
    mine.every((column, c) => column.length === theirs[c]?.length && column.every((v, r) => same(v, theirs[c]?.[r]))) &&
    JSON.stringify(a.partial) === JSON.stringify(b.partial) &&
    JSON.stringify(a.partialPairs) === JSON.stringify(b.partialPairs) &&
    (a.totals ?? []).every((v, i) => same(v, (b.totals ?? [])[i]))
  );
}
