import type { ColumnInfo, Value } from '../../../api/client';
import { allOthers, isWords, label } from '../../../model/labels';
import { periodsBetween } from '../../../model/periods';
import { placesIn } from '../../../model/window';
import type { DrawingInput, Overview, Parts } from '../drawing';
import { addsUp } from '../scale';

/** Who stands along an axis, in reading order; the rest is a member of its own at the end. */
export interface Members {
  by: ColumnInfo;
  isTime: boolean;
  /** Of those that are shown: a key, the member and its name. */
  keys: string[];
  names: string[];
  members: { member: Value; isRest: boolean }[];
  /** The whole axis, where that can be seen in part. */
  overview?: Overview;
  /** The figures of one series at their places along the axis; what has no row is null. */
  spread: (values: (number | null)[], split?: Value) => (number | null)[];
  /** True if the period of a place is not whole, by itself or together with the split of a series. */
  isCut: (place: number, part?: Value) => boolean;
}

const restKey = 'rest';

/** @param by The group along the axis. */
export function membersOf(input: DrawingInput, parts: Parts, by: ColumnInfo): Members {
  const isTime = by.kind === 'date' || by.kind === 'timestamp';
  const keyOf = (row: number) => (parts.isRest(row) ? restKey : JSON.stringify(parts.group(0)[row] ?? null));
  const known = new Map<string, { member: Value; isRest: boolean }>();
  for (let row = 0; row < parts.rows; row++)
    known.set(keyOf(row), { member: parts.group(0)[row] ?? null, isRest: parts.isRest(row) });
  const whole = isTime && by.at ? withPeriodsBetween(known, by.at) : [...known.keys()];
  const of = (key: string) => known.get(key) ?? { member: null, isRest: false };
  const memberOf = (key: string) => of(key).member;
  const shown = isWords(by) || input.isSmall ? undefined : shownOf(input, whole.map(memberOf));
  const keys = shown ? whole.slice(shown[0], shown[1] + 1) : whole;
  const places = new Map(keys.map((k, i) => [k, i]));
  const nameOf = (key: string) => (of(key).isRest ? allOthers : label(memberOf(key), by));
  return {
    by,
    isTime,
    keys,
    names: keys.map(nameOf),
    members: keys.map(of),
    overview: shown && {
      members: whole.map(memberOf),
      names: whole.map(nameOf),
      heights: heightsOf(input, parts, whole, keyOf),
      shown,
    },
    spread: (values, split) => {
      const result: (number | null)[] = Array(keys.length).fill(null);
      for (let row = 0; row < parts.rows; row++) {
        const at = places.get(keyOf(row));
        if (at !== undefined && (split === undefined || (parts.group(1)[row] ?? null) === split))
          result[at] = values[row] ?? null;
      }
      return result;
    },
    isCut: cutsOf(input, keys, memberOf),
  };
}

/** Keys of all periods from the first to the last, also of those without a figure, which become known; what is no period comes last. */
function withPeriodsBetween(known: Map<string, { member: Value; isRest: boolean }>, grain: string): string[] {
  const keys = [...known.keys()];
  const dates = [...known.values()].map((m) => m.member).filter((m): m is string => typeof m === 'string');
  const all = dates.length > 0 ? periodsBetween(dates[0] as string, dates[dates.length - 1] as string, grain) : null;
  if (!all) return keys;
  const late = keys.filter((k) => typeof known.get(k)?.member !== 'string');
  const periods = all.map((period) => JSON.stringify(period));
  for (const [i, key] of periods.entries())
    if (!known.has(key)) known.set(key, { member: all[i] as string, isRest: false });
  return [...periods, ...late];
}

function cutsOf(
  { partial, partialPairs = [] }: DrawingInput,
  keys: string[],
  memberOf: (key: string) => Value,
): Members['isCut'] {
  const alone = new Set(partial.map((p) => JSON.stringify(p)));
  const pairs = new Set(partialPairs.map((p) => JSON.stringify(p)));
  return (place, part) => {
    const key = keys[place] ?? '';
    return alone.has(key) || (pairs.size > 0 && part !== undefined && pairs.has(JSON.stringify([memberOf(key), part])));
  };
}

/** The places of the first and last member shown; all of them where nothing else is said. */
function shownOf({ tile, window }: DrawingInput, members: Value[]): [number, number] {
  const opening = Number(tile.options?.window ?? 0);
  if (window) return placesIn(window, members);
  return [opening > 0 ? Math.max(0, members.length - opening) : 0, members.length - 1];
}

/** How large each member is, all series together; parts that do not add up are as high as the highest of them. */
function heightsOf({ tile }: DrawingInput, parts: Parts, keys: string[], keyOf: (row: number) => string): number[] {
  const heights = new Map<string, number>();
  const [figure] = parts.figures;
  const isSum = addsUp(tile);
  for (let row = 0; row < parts.rows; row++) {
    const [key, value] = [keyOf(row), Math.max(0, figure?.values[row] ?? 0)];
    const before = heights.get(key) ?? 0;
    heights.set(key, isSum ? before + value : Math.max(before, value));
  }
  return keys.map((k) => heights.get(k) ?? 0);
}
