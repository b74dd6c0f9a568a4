import type { ColumnInfo, Value } from '../../api/client';
import { formatOf, label } from '../../model/labels';
import { figuresAxis, roomAround } from '../parts/cartesian/axes';
import {
  base,
  type Drawing,
  type DrawingInput,
  namedBelow,
  opacityOf,
  type Parts,
  partsOf,
  tip,
} from '../parts/drawing';
import { scaleOf } from '../parts/scale';

/** More dots than this on one value can't be told apart. */
const mostDots = 120;

/** A value, and how many rows have it. */
interface Single {
  member: Value;
  value: number;
  count: number;
}

export const rowsOf = (count: number) => (count === 1 ? '1 row' : `${count.toLocaleString('en')} rows`);

/** The single values of what a box was of: a dot for each row, equal ones on one another. */
export function singleValues(input: DrawingInput): Drawing {
  const { tokens: t, width, height } = input;
  const parts = partsOf(input.table);
  const by = parts.groups[0] as ColumnInfo;
  const singles = singlesOf(parts);
  const most = Math.max(1, ...singles.map((s) => s.count));
  // So many rows are one dot, where there are too many for one each.
  const each = Math.ceil(most / mostDots);
  const room = Math.max(20, height - 5 * t.size);
  const size = Math.max(2, Math.min(7 * t.scale, room / Math.ceil(most / each), width / 60));
  const steps = Math.max(2, Math.floor(width / (8 * t.size)));
  const first = singles[0]?.value ?? 0;
  const last = singles.reduce((greatest, s) => Math.max(greatest, s.value), first);
  const dots = dotsOf(singles, each, input);
  const start = base(t);
  return {
    option: {
      ...start,
      grid: { ...roomAround('', input, true, 0), right: 16, bottom: (each > 1 ? 2 * t.size + 6 : t.size) + 6 },
      xAxis: {
        ...figuresAxis(scaleOf([first, last], steps), steps, by, input, true),
        ...namedBelow([by.title, formatOf(by).unit].filter(Boolean).join(', '), input),
      },
      // As high as there is room for dots, so that a few of them lie at the bottom.
      yAxis: { type: 'value', min: 0, max: Math.max(Math.ceil(most / each), room / size), show: false },
      series: [{ type: 'scatter', selectedMode: false, symbolSize: size, data: dots }],
      tooltip: {
        ...(start.tooltip as object),
        formatter: (p: { dataIndex: number }) => {
          const single = singles[dots[p.dataIndex]?.marks[0] ?? -1];
          return single ? tip(t.accent, rowsOf(single.count), single.value, by) : '';
        },
      },
    },
    points: singles.map((s) => [s.value, 0.5]),
    marks: singles.map((s, i) => ({
      member: [s.member],
      isRest: false,
      text: `${label(s.value, by)}: ${rowsOf(s.count)}`,
      series: 0,
      data: i,
    })),
    note: each > 1 ? `One dot is ${each} rows.` : undefined,
  };
}

/** The values that are known, in the order of the result. */
function singlesOf(parts: Parts): Single[] {
  const counts = parts.figures[0]?.values ?? [];
  return Array.from({ length: parts.rows }, (_, row) => row).flatMap((row) => {
    const value = parts.group(0)[row] ?? null;
    return value === null ? [] : [{ member: value, value: Number(value), count: counts[row] ?? 0 }];
  });
}

/** The dots of each value, one on another. @param each How many rows one of them is. */
const dotsOf = (singles: Single[], each: number, { tile, tokens: t, selection }: DrawingInput) =>
  singles.flatMap((s, i) =>
    Array.from({ length: Math.max(1, Math.ceil(s.count / each)) }, (_, k) => ({
      value: [s.value, k + 0.5],
      marks: [i],
      itemStyle: {
        color: t.accent,
        opacity: 0.75 * (tile.pick === 'none' ? 1 : opacityOf(selection, [s.member], false)),
      },
    })),
  );
