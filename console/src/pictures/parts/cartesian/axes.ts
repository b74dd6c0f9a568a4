import type { ColumnInfo } from '../../../api/client';
import type { Tokens } from '../../../look/tokens';
import { formatOf, shortNumber } from '../../../model/labels';
import { type DrawingInput, namedBelow } from '../drawing';
import { scaleOf } from '../scale';

/** How far from the end of an axis that lies its unit stands: beyond half of the last figure. */
const besideLast = (t: Tokens) => 6 + Math.round(1.5 * t.size);

/** How wide that is. */
const widthOfUnit = (unit: string, t: Tokens) => besideLast(t) + unit.length * t.size * 0.6;

/** True where the unit would take too much of the width, and stands on a line of its own below the axis. */
const isUnitBelow = (unit: string, t: Tokens, width: number) => widthOfUnit(unit, t) > width * 0.15;

/** The room that an axis that lies needs for its unit, if it has one. */
export const roomOfUnit = (unit: string | undefined, t: Tokens, width: number) => {
  if (!unit) return { right: 12, bottom: 6 };
  return isUnitBelow(unit, t, width)
    ? { right: 12, bottom: 6 + t.size }
    : { right: 12 + widthOfUnit(unit, t), bottom: 6 };
};

/** How far below an axis its figures are, in pixels: as the library has it. */
const belowAxis = 8;

/**
 * The unit of an axis of figures at its end.
 * @param side Where that is: above the axis at the left or the right, or at the end of one that lies.
 * @param width How wide the picture is.
 */
export function unitAt(unit: string | undefined, t: Tokens, side: 'left' | 'right' | 'end', width: number) {
  if (!unit) return {};
  if (side === 'end' && isUnitBelow(unit, t, width)) return namedBelow(unit, { tokens: t, width });
  // Towards the figures where it is longer than they are: outwards it would be cut.
  const isLong = unit.length * t.size * 0.6 > 3 * t.size;
  const align = side === 'end' ? 'left' : (side === 'left') === isLong ? 'left' : 'right';
  return {
    name: unit,
    nameLocation: 'end',
    // Above the uppermost figure, which is as high as its type.
    nameGap: side === 'end' ? besideLast(t) : Math.round((t.size * 2) / 3),
    nameTextStyle: {
      color: t.quiet,
      fontSize: t.size,
      align,
      // On the line of the figures of the axis: what is written at the end of the lowest bar may reach as far.
      ...(side === 'end' ? { verticalAlign: 'top', padding: [belowAxis, 0, 0, 0] } : {}),
    },
  };
}

/** The axis of the measures that have one of their own at the right. */
export function rightAxis<S extends { side: string; column: ColumnInfo }>(
  series: S[],
  t: Tokens,
  steps: number,
  ends: (of: S[]) => (number | null)[],
  room: number,
) {
  const right = series.filter((s) => s.side === 'right');
  const units = [...new Set(right.map((s) => formatOf(s.column).unit))];
  const format = right[0] ? { ...formatOf(right[0].column), unit: '' } : { decimals: 0, factor: 1, unit: '' };
  return {
    type: 'value',
    position: 'right',
    ...scaleOf(ends(right), steps),
    splitNumber: steps,
    // One set of lines is enough: that of the left axis.
    splitLine: { show: false },
    axisLabel: figureLabels(format, t),
    ...unitAt(
      units.length === 1 && (units[0] ?? '').length * t.size * 0.6 < room ? units[0] : undefined,
      t,
      'right',
      room,
    ),
  };
}

/** The axis along which the members of a picture stand. */
export const membersAxis = ({ tokens: t, width, height }: DrawingInput, names: string[], lying: boolean) => ({
  type: 'category',
  data: names,
  inverse: lying,
  // At the edge, also where figures go below nothing: there names would lie over the bars.
  axisLine: { onZero: false, lineStyle: { color: t.hairline } },
  axisTick: { show: false },
  axisLabel: {
    color: t.quiet,
    fontSize: t.size,
    width: lying ? Math.min(12.5 * t.size, width * 0.45) : undefined,
    overflow: 'truncate',
    hideOverlap: true,
    // Where lines of names would lie on one another, what there is room for; above and below them stand the ticks of figures.
    interval: lying && (height - 2.5 * t.size) / names.length >= t.size - 1 ? 0 : 'auto',
    // A long name at an end would be cut where it stands in the middle of its place.
    ...(lying ? {} : endsOf(names, width, t)),
  },
});

/** The room beside the last place of an axis, in pixels: where only some names are written, any of the last ones may be the last to be. */
export function roomBeyond(names: string[], width: number, t: Tokens): number {
  const long = (name: string) => name.length * t.size * 0.6;
  const isEachWritten = names.reduce((sum, name) => sum + long(name) * 1.3, 0) < width * 0.8;
  // Names of which half is more than that are cut at the ends alone, see endsOf.
  return isEachWritten ? 28 : Math.max(28, Math.min(long(names.at(-1) ?? '') / 2, width * 0.2));
}

/** How the first and the last name along an axis are aligned, where half of them is more than there is beside their places. */
export function endsOf(names: string[], width: number, t: Tokens) {
  const half = (name: string | undefined) => ((name?.length ?? 0) * t.size * 0.6) / 2;
  const place = width / Math.max(1, names.length) / 2;
  return {
    ...(half(names[0]) > place + 40 ? { alignMinLabel: 'left' } : {}),
    ...(half(names[names.length - 1]) > place + 24 ? { alignMaxLabel: 'right' } : {}),
  };
}

/**
 * What is written at the ticks of an axis of figures.
 * @param suffix What stands behind each but nothing, where the unit has no place of its own.
 */
export const figureLabels = (format: ReturnType<typeof formatOf>, t: Tokens, suffix = '') => ({
  color: t.quiet,
  fontSize: t.size,
  hideOverlap: true,
  formatter: (v: number) => `${shortNumber(v, { ...format, unit: '' }, 3)}${v === 0 ? '' : suffix}`,
});

/** An axis of figures: its ticks, what is written at them, and its unit. */
export const figuresAxis = (
  ends: { min: number; max: number },
  ticks: number,
  column: ColumnInfo,
  { tokens: t, width }: Pick<DrawingInput, 'tokens' | 'width'>,
  lying: boolean,
) => ({
  type: 'value',
  ...ends,
  splitNumber: ticks,
  ...unitAt(formatOf(column).unit, t, lying ? 'end' : 'left', width),
  axisLabel: figureLabels(formatOf(column), t),
  splitLine: { lineStyle: { color: t.hairline } },
});

/**
 * The room around a plot with an axis of figures.
 * @param above What stands above it beside the unit, in pixels.
 */
export const roomAround = (
  unit: string,
  { tokens: t, width }: Pick<DrawingInput, 'tokens' | 'width'>,
  lying: boolean,
  above: number,
) => ({
  left: 4,
  top: 8 + (unit && !lying ? t.size + 4 : 0) + above,
  ...roomOfUnit(lying ? unit : '', t, width),
  containLabel: true,
  outerBoundsMode: 'same',
  outerBoundsContain: 'axisLabel',
});
