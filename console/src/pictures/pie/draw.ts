import type { ColumnInfo, Value } from '../../api/client';
import { allOthers, formatOf, label, shortNumber } from '../../model/labels';
import { colourOf, onColour } from '../parts/colours';
import { after, base, type Drawing, type DrawingInput, opacityOf, type Parts, partsOf, tipsOf } from '../parts/drawing';
import { leftOutOf } from '../parts/tree';
import { letter } from '../parts/wrap';

/** A part of the whole. */
interface Slice {
  /** The line of the result. */
  row: number;
  member: Value;
  isRest: boolean;
  value: number | null;
  name: string;
  colour: string;
}

/** How slices are laid out, in pixels. */
interface Round {
  /** True where labels have no room beside them: names stand above, and shares inside. */
  isNarrow: boolean;
  radius: number;
  /** The radius of what is left out of a ring; 0 for a whole. */
  hole: number;
  /** How broad a ring has to be for shares to stand in it. */
  broad: number;
  /** How near to right above or right below the middle of each slice is, from 0 to 1. */
  steep: number[];
}

/** Slices of a whole. */
export function draw(input: DrawingInput): Drawing {
  const { tokens: t } = input;
  const parts = partsOf(input.table);
  const by = parts.groups[0];
  const figure = parts.figures[0];
  if (!by || !figure) return { option: base(t), marks: [] };
  const tips = tipsOf(input);
  const every = slicesOf(input, parts, by, figure.values);
  // What is below nothing is no part of a whole.
  const whole = every.filter((s) => s.value === null || s.value >= 0);
  const isNarrow = isNarrowFor(whole, input);
  const slices = isNarrow ? whole.filter((s) => !input.hidden?.has(s.name)) : whole;
  const round = roundOf(slices, isNarrow, input);
  const total = slices.reduce((sum, s) => sum + (s.value ?? 0), 0);
  const share = (v: number | null, decimals = 1) =>
    total > 0 && v !== null ? `${((100 * v) / total).toFixed(decimals)} %` : '–';
  const start = base(t);
  return {
    option: {
      ...start,
      title: titleOf(total, figure.column, round, input),
      series: [seriesOf(slices, share, round, input)],
      tooltip: {
        ...(start.tooltip as object),
        formatter: ({ dataIndex }: { dataIndex: number }) => {
          const s = slices[dataIndex];
          return s
            ? `${tips.of(s.row, s.colour, s.name, s.value, figure.column)}<div>${share(s.value)} of those shown</div>`
            : '';
        },
      },
    },
    note: leftOutOf({ leftOut: every.length - whole.length }),
    legend: isNarrow ? whole.map(({ name, colour }) => ({ name, colour })) : undefined,
    marks: slices.map((s, i) => ({
      member: [s.member],
      isRest: s.isRest,
      text: `${s.name}: ${label(s.value, figure.column)}, ${share(s.value)} of those shown${after(tips.words(s.row))}`,
      series: 0,
      data: i,
    })),
  };
}

const slicesOf = ({ tokens: t }: DrawingInput, parts: Parts, by: ColumnInfo, values: (number | null)[]): Slice[] =>
  Array.from({ length: parts.rows }, (_, row) => {
    const member = parts.group(0)[row] ?? null;
    const isRest = parts.isRest(row);
    return {
      row,
      member,
      isRest,
      value: values[row] ?? null,
      name: isRest ? allOthers : label(member, by),
      colour: isRest ? t.rest : colourOf(by, member, t),
    };
  });

const valuesOf = (slices: Slice[]) => slices.map((s) => s.value ?? 0);

const isNarrowFor = (slices: Slice[], { tokens: t, width, height }: DrawingInput) =>
  width < 260 || labelsBeside(valuesOf(slices)) * 2 * (t.size + 4) > height;

/** Small enough that the labels beside it have room. */
function roundOf(slices: Slice[], isNarrow: boolean, { tile, tokens: t, width, height }: DrawingInput): Round {
  const steep = steepness(valuesOf(slices));
  // What stands right above or below it takes two lines of the height.
  const isSteep = steep.some((s) => s > 0.98);
  const radius = isNarrow
    ? Math.min(height * 0.46, width * 0.4)
    : Math.max(
        28,
        Math.min(
          height * 0.37,
          width / 2 - Math.max(100, 6.6 * t.size),
          isSteep ? height / 2 - 3 * (t.size + 4) : Number.POSITIVE_INFINITY,
        ),
      );
  // A ring is as broad as the shares that stand in it, as long as it stays one.
  const broad = isNarrow ? 4 * letter * t.size + 8 : 0;
  const isRing = tile.options?.ring === 'true';
  return {
    isNarrow,
    radius,
    hole: isRing ? Math.max(radius * 0.45, Math.min(radius * 0.58, radius - broad)) : 0,
    broad,
    steep,
  };
}

/** The figure of all, in the middle of a ring that has room for it. */
function titleOf(total: number, column: ColumnInfo, { hole }: Round, { tokens: t, height }: DrawingInput) {
  const { unit } = formatOf(column);
  const text = shortNumber(total, { ...formatOf(column), unit: '' });
  const size = Math.min(t.size * 1.6, hole * 0.62, (hole * 1.5) / (text.length * letter));
  // Smaller than that nobody reads it; the share of each part tells of it, too.
  if (hole === 0 || size < leastSize) return undefined;
  return {
    text,
    subtext: unit || undefined,
    left: 'center',
    top: Math.round(height * 0.5 - (size + (unit ? t.size : 0)) / 2 - 8),
    itemGap: 4,
    textStyle: { color: t.ink, fontSize: size, fontWeight: 600 },
    subtextStyle: { color: t.quiet, fontSize: t.size },
  };
}

/** @param share The share of a slice, in words. */
function seriesOf(
  slices: Slice[],
  share: (value: number | null, decimals?: number) => string,
  { isNarrow, radius, hole, broad, steep }: Round,
  { tokens: t, selection, width }: DrawingInput,
): object {
  return {
    type: 'pie',
    radius: [hole, radius],
    center: ['50%', '50%'],
    selectedMode: false,
    startAngle: 90,
    minShowLabelAngle: isNarrow ? 40 : leastAngle,
    emphasis: { scale: false },
    label: {
      show: !isNarrow || radius - hole >= broad,
      position: isNarrow ? 'inside' : 'outside',
      color: t.ink,
      fontSize: isNarrow ? t.size - 1 : t.size,
      lineHeight: t.size + 4,
      width: Math.max(40, width / 2 - radius - 20),
      overflow: 'truncate',
      formatter: ({ dataIndex }: { dataIndex: number }) => {
        const s = slices[dataIndex];
        return isNarrow ? share(s?.value ?? null, 0) : `${s?.name}\n${share(s?.value ?? null)}`;
      },
    },
    labelLine: { length: 6, length2: 6, lineStyle: { color: t.hairline } },
    data: slices.map((s, i) => ({
      name: s.name,
      value: s.value,
      ...(isNarrow ? { label: { color: onColour(s.colour, t) } } : {}),
      labelLine: { length: 6 + t.size * (steep[i] ?? 0) ** 4 },
      itemStyle: {
        color: s.colour,
        opacity: opacityOf(selection, [s.member], s.isRest),
        borderColor: t.surface,
        borderWidth: 1,
      },
    })),
  };
}

/** The smallest type in which the figure of all is written, in pixels. */
const leastSize = 9;

/** The least angle of a part with a label beside it, in degrees. */
const leastAngle = 12;

/** Where the middle of each part is, going round from the top, from 0 to 1. */
function middles(values: readonly number[]): number[] {
  const total = values.reduce((sum, v) => sum + v, 0);
  let before = 0;
  return values.map((v) => {
    const middle = total > 0 ? (before + v / 2) / total : 0;
    before += v;
    return middle;
  });
}

/** How many labels stand at the side that has more of them. */
function labelsBeside(values: readonly number[]): number {
  const total = values.reduce((sum, v) => sum + v, 0);
  const labelled = middles(values).filter((_, i) => (360 * (values[i] ?? 0)) / total >= leastAngle);
  const right = labelled.filter((m) => m < 0.5).length;
  return Math.max(right, labelled.length - right);
}

/** How near to right above or right below the middle of each part is, from 0 to 1. */
const steepness = (values: readonly number[]): number[] =>
  middles(values).map((m) => Math.abs(Math.cos(2 * Math.PI * m)));
