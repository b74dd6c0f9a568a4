import type { ColumnInfo, Value } from '../../../api/client';
import type { Tokens } from '../../../look/tokens';
import { formatOf, isWords, label } from '../../../model/labels';
import { colourOf } from '../colours';
import type { DrawingInput, Parts } from '../drawing';
import { addsUp } from '../scale';
import type { Members } from './members';

/** How figures along an axis are drawn. */
export interface Manner {
  mark: 'bar' | 'line';
  /** True for the area below a line. */
  filled?: boolean;
  /** True if the parts of a split lie on one another where they add up. */
  stacks?: boolean;
}

/** The figures of one measure, or of one member of a split. */
export interface Series {
  name: string;
  colour: string;
  column: ColumnInfo;
  /** The member of the split; undefined for a measure. */
  part: Value | undefined;
  /** Its place among all, hidden ones too. */
  at: number;
  isBar: boolean;
  side: 'left' | 'right';
  /** What is drawn at each place. */
  values: (number | null)[];
  /** The figures themselves, where shares of them are drawn. */
  real?: (number | null)[];
}

/** The series of a picture, and how they lie to one another. */
export interface Placed {
  /** All of them; those that are shown. */
  all: Series[];
  shown: Series[];
  /** The first figure, by which an axis is written. */
  figure: ColumnInfo;
  manner: Manner;
  isBar: boolean;
  /** True if colours tell series apart, so that it has a legend. */
  isKeyed: boolean;
  isSplit: boolean;
  /** True if some are bars and some are lines, or some have an axis at the right. */
  isMixed: boolean;
  isShares: boolean;
  isStacked: boolean;
  /** True if bars lie over one another, and show through. */
  isOver: boolean;
  /** True if bars lie. */
  lying: boolean;
}

/** @param figure The first figure, by which an axis is written. */
export function seriesOf(
  input: DrawingInput,
  parts: Parts,
  along: Members,
  figure: ColumnInfo,
  manner: Manner,
): Placed {
  const options = input.tile.options ?? {};
  const isBar = manner.mark === 'bar';
  const split = parts.groups[1];
  const all = (split ? ofSplit(parts, along, split, input.tokens) : ofMeasures(parts, along, input.tokens)).map(
    (s, at): Series => ({
      ...s,
      at,
      isBar: isBar && options[`marks.${s.column.name}`] !== 'line',
      side: options[`axes.${s.column.name}`] === 'right' ? 'right' : 'left',
    }),
  );
  for (const s of all) {
    const unit = unitsAt(all, s.side).length > 1 ? formatOf(s.column).unit : undefined;
    s.name = [s.name, unit].filter(Boolean).join(', ') + (s.side === 'right' ? ' (right axis)' : '');
  }
  const isKeyed = split !== undefined || all.length > 1;
  const shown = all.filter((s) => !isKeyed || !input.hidden?.has(s.name));
  const isMixed = all.some((s) => s.side === 'right' || s.isBar !== isBar);
  const { parts: parted, direction } = options;
  const isSum = split !== undefined && addsUp(input.tile) && manner.stacks === true;
  const isShares = isKeyed && parted === 'shares';
  if (isShares) toShares(shown);
  return {
    all,
    shown,
    figure,
    manner,
    isBar,
    isKeyed,
    isSplit: split !== undefined,
    isMixed,
    isShares,
    isStacked: isKeyed && (parted === undefined ? isSum : parted === 'stacked' || isShares),
    isOver: isKeyed && parted === 'laid_over',
    lying: isBar && !isMixed && (direction === undefined ? !along.isTime && isWords(along.by) : direction === 'lying'),
  };
}

/** The units of the figures on one side: one stands at the end of the axis, several in the names of the series. */
export const unitsAt = (series: Series[], side: Series['side']): string[] => [
  ...new Set(series.filter((s) => s.side === side).map((s) => formatOf(s.column).unit)),
];

type Unplaced = Omit<Series, 'at' | 'isBar' | 'side'>;

function ofSplit(parts: Parts, along: Members, split: ColumnInfo, t: Tokens): Unplaced[] {
  const members = [...new Map(parts.group(1).map((v) => [JSON.stringify(v), v])).values()];
  // Years and other periods in calendar order, whatever the first point of each; ISO dates sort as texts.
  if (!isWords(split)) members.sort((a, b) => (a === b ? 0 : a === null ? 1 : b === null ? -1 : a < b ? -1 : 1));
  const [figure] = parts.figures;
  return figure
    ? members.map((part) => ({
        part,
        name: label(part, split),
        colour: colourOf(split, part, t),
        column: figure.column,
        values: along.spread(figure.values, part),
      }))
    : [];
}

const ofMeasures = (parts: Parts, along: Members, t: Tokens): Unplaced[] =>
  parts.figures.map((f, i) => ({
    part: undefined,
    name: f.column.title,
    colour: t.series[i] ?? t.rest,
    column: f.column,
    values: along.spread(f.values),
  }));

/** The figures of each member as shares of their sum; what they are stays beside them. */
function toShares(series: Series[]) {
  const sums = series[0]?.values.map((_, i) => series.reduce((sum, s) => sum + Math.max(0, s.values[i] ?? 0), 0)) ?? [];
  for (const s of series) {
    s.real = s.values;
    s.values = s.values.map((v, i) => (v === null || !sums[i] ? null : Math.max(0, v) / (sums[i] ?? 1)));
  }
}

/**
 * The bar of "all others" drawn broken where it is so much longer than any other that those would be stubs: a body, a gap and an
 * end beyond the longest of the others, with its figure beside it.
 * @param at Its place; less than 0 for none.
 */
export function brokenRest(series: Series[], at: number) {
  const only = series.length === 1 ? series[0] : undefined;
  const figure = only?.values[at];
  if (!only || at < 0 || figure === null || figure === undefined) return undefined;
  const others = only.values.filter((v, i): v is number => i !== at && v !== null);
  const most = Math.max(0, ...others);
  if (most === 0 || others.some((v) => v < 0) || figure <= 2 * most) return undefined;
  return { at, figure, column: only.column, body: most * 1.05, gap: most * 0.03, end: most * 1.22 };
}

export type Broken = NonNullable<ReturnType<typeof brokenRest>>;
