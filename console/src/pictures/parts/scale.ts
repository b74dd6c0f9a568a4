import type { TileInfo, TileResult } from '../../api/client';
import { panelsOf } from './panelsOf';

/** The ends of an axis of figures and the steps between them. */
export interface Scale {
  min: number;
  max: number;
  interval: number;
}

/** A round number near another: 1, 2, 3 or 5 times a power of ten. */
function round(value: number): number {
  const power = 10 ** Math.floor(Math.log10(value));
  const lead = value / power;
  return (lead < 1.5 ? 1 : lead < 2.5 ? 2 : lead < 4 ? 3 : lead < 7 ? 5 : 10) * power;
}

/** Without what adding up fractions leaves behind. */
const tidy = (value: number) => Number(value.toPrecision(12));

/**
 * The axis on which figures are drawn from nothing, with round steps. Figures that change a little keep it, so that marks can
 * move along it while all else stays.
 * @param figures What is drawn; of parts that lie on one another their sums.
 * @param steps About how many steps there is room for.
 */
export function scaleOf(figures: Iterable<number | null>, steps: number): Scale {
  let [least, most] = [0, 0];
  for (const figure of figures) {
    if (figure === null || !Number.isFinite(figure)) continue;
    least = Math.min(least, figure);
    most = Math.max(most, figure);
  }
  if (least === most) return { min: 0, max: 1, interval: 1 };
  const interval = tidy(round((most - least) / Math.max(1, steps)));
  // So small that no step can be told from the next.
  if (!(interval > 0)) return { min: least, max: most, interval: most - least };
  return {
    min: tidy(Math.floor(least / interval) * interval),
    max: tidy(Math.ceil(most / interval) * interval),
    interval,
  };
}

/** The same scale, or a longer one with steps as many times as large as it takes to have about as many as are wanted. */
export function coarsened({ min, max, interval }: Scale, steps: number): Scale {
  const times = Math.ceil((max - min) / interval / (steps + 2));
  if (times <= 1) return { min, max, interval };
  const step = interval * times;
  return { min: tidy(Math.floor(min / step) * step), max: tidy(Math.ceil(max / step) * step), interval: tidy(step) };
}

/** The ends of parts that lie on one another, at each place: those above nothing and those below. */
export function stackedEnds(series: { values: (number | null)[] }[]): number[] {
  const places = series[0]?.values.length ?? 0;
  const ends: number[] = [];
  for (let i = 0; i < places; i++) {
    let [above, below] = [0, 0];
    for (const { values } of series) {
      const v = values[i] ?? 0;
      if (v > 0) above += v;
      else below += v;
    }
    ends.push(above, below);
  }
  return ends;
}

/**
 * The ends of steps that add up, the start first.
 * @param to Where given, the steps are the differences from the first figures to these, and the start is the sum of the first.
 */
export function runningEnds(figures: (number | null)[], to?: (number | null)[]): number[] {
  const ends = [to ? figures.reduce<number>((sum, v) => sum + (v ?? 0), 0) : 0];
  figures.forEach((v, i) => {
    ends.push((ends[i] ?? 0) + (to ? (to[i] ?? 0) - (v ?? 0) : (v ?? 0)));
  });
  return ends;
}

type Table = NonNullable<TileResult['table']>;

const figuresOf = (table: Table) =>
  table.columns.flatMap((c, i) => (c.role === 'figure' ? [table.values[i] as (number | null)[]] : []));

/**
 * The least and greatest figure of several results, so that all are drawn at equal scale; stacked ones count together.
 * @param stacks True for a kind of picture whose parts lie on one another where they add up; along for one whose members do.
 */
export function commonScale(
  tile: TileInfo,
  stacks: boolean | 'along',
  ...tables: Table[]
): [number, number] | undefined {
  const { parts } = tile.options ?? {};
  if (parts === 'shares') return undefined;
  // Each picture of a tile that has one for each member is drawn of its own rows.
  const drawn = tile.repeats ? tables.flatMap((t) => panelsOf(t, tile.by.length - 1).map((p) => p.table)) : tables;
  const isStacked =
    drawn[0]?.columns.filter((c) => c.role === 'group').length === 2 &&
    (parts === undefined ? stacks === true && addsUp(tile) : parts === 'stacked');
  const values = drawn.flatMap((table) => {
    if (stacks === 'along') {
      const [first, second] = figuresOf(table);
      return first ? runningEnds(first, second) : [];
    }
    if (!isStacked) return figuresOf(table).flat();
    const sums = new Map<string, number>();
    const [figure] = figuresOf(table);
    (table.values[0] ?? []).forEach((m, row) => {
      const key = JSON.stringify(m);
      sums.set(key, (sums.get(key) ?? 0) + (figure?.[row] ?? 0));
    });
    return [...sums.values()];
  });
  const known = values.filter((v): v is number => typeof v === 'number');
  if (known.length === 0) return undefined;
  const [low, high] = [Math.min(0, ...known), Math.max(...known)];
  return [low, upTo(high === low ? low + 1 : high)];
}

/** The same scale with room for values beyond the figures. */
export function withOutliers(
  scale: [number, number] | undefined,
  ...results: (Pick<TileResult, 'outliers'> | undefined)[]
): [number, number] | undefined {
  const values = results.flatMap((r) => r?.outliers ?? []).map((o) => Number(o.value));
  if (!scale || values.length === 0) return scale;
  return [Math.min(scale[0], ...values), Math.max(scale[1], upTo(Math.max(...values)))];
}

/** The least and the greatest of each figure of several results; nothing where one has none. */
export function endsOfFigures(...tables: Table[]): [number, number][] | undefined {
  const columns = tables.map(figuresOf);
  const ends = (columns[0] ?? []).map((_, i): [number, number] => {
    let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (const figures of columns)
      for (const v of figures[i] ?? []) {
        if (v === null) continue;
        least = Math.min(least, v);
        most = Math.max(most, v);
      }
    return [least, most];
  });
  return ends.every(([least]) => Number.isFinite(least)) ? ends : undefined;
}

/** True if what a tile shows first adds up; how many there are does. */
export const addsUp = (tile: TileInfo): boolean => tile.show.length === 0 || tile.show[0]?.additive === true;

/** Up to a number that reads well at the end of an axis. */
function upTo(value: number): number {
  if (value <= 0) return value;
  const power = 10 ** Math.floor(Math.log10(value));
  return ([1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10].find((n) => n * power >= value * 0.9999) ?? 10) * power;
}
