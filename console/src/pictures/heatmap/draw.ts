import type { ColumnInfo, Value } from '../../api/client';
import { formatOf, isWords, label, shortNumber } from '../../model/labels';
import type { Member } from '../../model/selections';
import { figureColours, middleOf, onColour } from '../parts/colours';
import {
  after,
  base,
  type Drawing,
  type DrawingInput,
  html,
  opacityOf,
  type Parts,
  partsOf,
  tipsOf,
} from '../parts/drawing';
import { scaleLegend } from '../parts/scaleLegend';
import { ordered } from './order';

type Figure = Parts['figures'][number];

/** A figure at its place: how manieth across and down. */
interface Cell {
  row: number;
  member: Member;
  value: number | null;
  x: number;
  y: number;
}

/** Cells of two fields, coloured by a figure. */
export function draw(input: DrawingInput): Drawing {
  const { tokens: t } = input;
  const parts = partsOf(input.table);
  const [down, across] = parts.groups;
  const figure = parts.figures[0];
  if (!down || !across || !figure) return { option: base(t), marks: [] };
  const { cells, xs, ys } = cellsIn(input, parts, down, across, figure);
  const tips = tipsOf(input);
  const name = (c: Cell) => `${label(c.member[0], down)} · ${label(c.member[1], across)}`;
  const known = cells.flatMap((c) => (c.value === null ? [] : [c.value]));
  const colours = figureColours(known, t, middleOf(input.tile));
  const start = base(t, false);
  return {
    option: {
      ...start,
      grid: {
        left: 4,
        right: 80 * t.scale,
        top: 4,
        bottom: 6,
        containLabel: true,
        outerBoundsMode: 'same',
        outerBoundsContain: 'axisLabel',
      },
      xAxis: axisOf(xs, across, input),
      yAxis: axisOf(ys, down, input, true),
      visualMap: scaleLegend(colours, formatOf(figure.column), input),
      series: [seriesOf(cells, figure, isPrinted(input, known, figure, xs, ys, down), colours.of, input)],
      tooltip: {
        ...(start.tooltip as object),
        formatter: (p: { dataIndex: number; color: string }) => {
          const c = cells[p.dataIndex];
          if (!c) return '';
          return `<div>${html(name(c))}</div>${tips.of(c.row, p.color, figure.column.title, c.value, figure.column)}`;
        },
      },
    },
    marks: cells.map((c, i) => ({
      member: c.member,
      isRest: false,
      text: `${name(c)}: ${label(c.value, figure.column)}${after(tips.words(c.row))}`,
      series: 0,
      data: i,
    })),
  };
}

/** The members of a field in the order of its kind, days of the week from the one that weeks start with; missing ones last. */
function membersOf(values: Value[], column: ColumnInfo, { weekStarts }: DrawingInput): Value[] {
  const shift = weekStarts === 'sunday' ? 7 : weekStarts === 'saturday' ? 6 : 1;
  const rank = (v: Value) => (column.at === 'day_of_week' && typeof v === 'number' ? (v + 7 - shift) % 7 : v);
  return [...new Set(values)].sort((a, b) =>
    a === null ? 1 : b === null ? -1 : (rank(a) ?? 0) < (rank(b) ?? 0) ? -1 : 1,
  );
}

/** The cells, and the members that stand across and down in their order. */
function cellsIn(input: DrawingInput, parts: Parts, down: ColumnInfo, across: ColumnInfo, figure: Figure) {
  const order = input.tile.options?.ordered_by;
  const members = Array.from(
    { length: parts.rows },
    (_, row): Member => [parts.group(0)[row] ?? null, parts.group(1)[row] ?? null],
  );
  const at = new Map(
    order === undefined ? [] : members.map((m, row) => [JSON.stringify(m), figure.values[row] ?? null]),
  );
  const [ys, xs] = ordered(
    membersOf(parts.group(0), down, input),
    membersOf(parts.group(1), across, input),
    order,
    [isWords(down), isWords(across)],
    (y, x) => at.get(JSON.stringify([y, x])),
  );
  const [x, y] = [xs, ys].map((all) => new Map(all.map((v, i) => [v, i])));
  const cells = members.map(
    (member, row): Cell => ({
      row,
      member,
      value: figure.values[row] ?? null,
      x: x?.get(member[1] ?? null) ?? -1,
      y: y?.get(member[0] ?? null) ?? -1,
    }),
  );
  return { cells, xs, ys };
}

/** How a figure is printed in its cell: without its unit. */
const printed = (value: number, { column }: Figure) => shortNumber(value, { ...formatOf(column), unit: '' });

/** How wide the names that stand down are at most, in pixels. */
const mostOfNames = ({ tokens: t, width }: DrawingInput) => Math.min(12.5 * t.size, width * 0.3);

/** True where figures are printed: they are wanted, and a cell has room for the longest of them. */
function isPrinted(input: DrawingInput, known: number[], figure: Figure, xs: Value[], ys: Value[], down: ColumnInfo) {
  if (input.tile.options?.values !== 'shown') return false;
  const { tokens: t, width, height } = input;
  const longest = Math.max(0, ...known.map((v) => printed(v, figure).length));
  const longestName = Math.max(0, ...ys.map((v) => label(v, down).length));
  const names = Math.min(longestName * t.size * 0.6, mostOfNames(input));
  const room = (width - 80 * t.scale - 10 - names) / Math.max(1, xs.length);
  return room > longest * t.size * 0.58 + 2 && (height - 30) / Math.max(1, ys.length) > t.size + 3;
}

/** The axis of a field. Down the names have a room of their own, and as many stand as there are lines for. */
function axisOf(values: Value[], column: ColumnInfo, input: DrawingInput, isDown = false) {
  const { tokens: t, height } = input;
  const lines = Math.max(1, Math.floor((height - 2 * t.size - 10) / (t.size * 1.3)));
  return {
    type: 'category',
    data: values.map((v) => label(v, column)),
    inverse: isDown,
    axisLine: { show: false },
    axisTick: { show: false },
    splitArea: { show: false },
    axisLabel: {
      color: t.quiet,
      fontSize: t.size,
      hideOverlap: true,
      // Which names have room is settled here: the library keeps room for those that it would take, which are not those that it draws.
      ...(isDown
        ? { width: mostOfNames(input), overflow: 'truncate', interval: Math.ceil(values.length / lines) - 1 }
        : {}),
    },
  };
}

/** The cells as the drawing library takes them. */
function seriesOf(
  cells: Cell[],
  figure: Figure,
  hasFigures: boolean,
  colour: (value: number) => string,
  { tokens: t, selection }: DrawingInput,
): object {
  return {
    type: 'heatmap',
    progressive: 0,
    selectedMode: false,
    emphasis: { itemStyle: { borderColor: t.ink, borderWidth: 1 } },
    label: {
      show: hasFigures,
      fontSize: t.size,
      formatter: (p: { dataIndex: number }) => {
        const value = cells[p.dataIndex]?.value ?? null;
        return value === null ? '' : printed(value, figure);
      },
    },
    data: cells.map((c) => ({
      value: [c.x, c.y, c.value ?? '-'],
      label: hasFigures && c.value !== null ? { color: onColour(colour(c.value), t) } : undefined,
      itemStyle: { borderColor: t.surface, borderWidth: 1, opacity: opacityOf(selection, c.member, false) },
    })),
  };
}
