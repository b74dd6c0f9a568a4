import type { EChartsCoreOption } from 'echarts/core';
import type { ColumnInfo, Value } from '../../api/client';
import { formatOf, isWords, label, shortNumber } from '../../model/labels';
import type { Member } from '../../model/selections';
import { figureColours, middleOf, onColour } from '../parts/colours';
import { after, base, type Drawing, type DrawingInput, html, opacityOf, partsOf, tipsOf } from '../parts/drawing';
import { scaleLegend } from '../parts/scaleLegend';
import { ordered } from './order';

/** The length of the longest of some members. */
const longestOf = (values: Value[], column: ColumnInfo) => Math.max(0, ...values.map((v) => label(v, column).length));

/** Cells of two fields, coloured by a figure. */
export function draw(input: DrawingInput): Drawing {
  const { table, tokens: t, selection, height, weekStarts } = input;
  const parts = partsOf(table);
  const [down, across] = parts.groups;
  const figure = parts.figures[0];
  if (!down || !across || !figure) return { option: base(t), marks: [] };
  const tips = tipsOf(input);
  const axis = (g: number, column: ColumnInfo) => {
    const all = [...new Map(parts.group(g).map((v) => [JSON.stringify(v), v])).values()];
    const shift = weekStarts === 'sunday' ? 7 : weekStarts === 'saturday' ? 6 : 1;
    const rank = (v: Value) => (column.at === 'day_of_week' && typeof v === 'number' ? (v + 7 - shift) % 7 : v);
    return all.sort((a, b) => (a === null ? 1 : b === null ? -1 : (rank(a) ?? 0) < (rank(b) ?? 0) ? -1 : 1));
  };
  const order = input.tile.options?.ordered_by;
  const at = new Map<string, number | null>();
  for (let row = 0; order !== undefined && row < parts.rows; row++)
    at.set(JSON.stringify([parts.group(0)[row] ?? null, parts.group(1)[row] ?? null]), figure.values[row] ?? null);
  const [ys, xs] = ordered(axis(0, down), axis(1, across), order, [isWords(down), isWords(across)], (y, x) =>
    at.get(JSON.stringify([y, x])),
  );
  const cells = Array.from({ length: parts.rows }, (_, row) => {
    const member: Member = [parts.group(0)[row] ?? null, parts.group(1)[row] ?? null];
    return {
      row,
      member,
      value: figure.values[row] ?? null,
      x: xs.indexOf(member[1] ?? null),
      y: ys.indexOf(member[0] ?? null),
    };
  });
  const known = cells.map((c) => c.value).filter((v): v is number => v !== null);
  const colours = figureColours(known, t, middleOf(input.tile));
  const format = formatOf(figure.column);
  // Printed where a cell has room for the longest of them.
  const longest = Math.max(0, ...known.map((v) => shortNumber(v, { ...format, unit: '' }).length));
  const room =
    (input.width - 80 * t.scale - 10 - Math.min(longestOf(ys, down) * t.size * 0.6, 12.5 * t.size, input.width * 0.3)) /
    Math.max(1, xs.length);
  const isPrinted =
    input.tile.options?.values === 'shown' &&
    room > longest * t.size * 0.58 + 2 &&
    (height - 30) / Math.max(1, ys.length) > t.size + 3;
  const lines = Math.max(1, Math.floor((height - 2 * t.size - 10) / (t.size * 1.3)));
  const each = Math.ceil(ys.length / lines);
  const axisOf = (values: Value[], column: ColumnInfo, inverse: boolean) => ({
    type: 'category',
    data: values.map((v) => label(v, column)),
    inverse,
    axisLine: { show: false },
    axisTick: { show: false },
    splitArea: { show: false },
    axisLabel: {
      color: t.quiet,
      fontSize: t.size,
      hideOverlap: true,
      // Which names have room is settled here: the library keeps room for those that it would take, which are not those that it draws.
      ...(inverse
        ? { width: Math.min(12.5 * t.size, input.width * 0.3), overflow: 'truncate', interval: each - 1 }
        : {}),
    },
  });
  const name = (c: { member: Member }) => `${label(c.member[0], down)} · ${label(c.member[1], across)}`;
  const option: EChartsCoreOption = {
    ...base(t, false),
    grid: {
      left: 4,
      right: 80 * t.scale,
      top: 4,
      bottom: 6,
      containLabel: true,
      outerBoundsMode: 'same',
      outerBoundsContain: 'axisLabel',
    },
    xAxis: axisOf(xs, across, false),
    yAxis: axisOf(ys, down, true),
    visualMap: scaleLegend(colours, format, input),
    series: [
      {
        type: 'heatmap',
        progressive: 0,
        selectedMode: false,
        emphasis: { itemStyle: { borderColor: t.ink, borderWidth: 1 } },
        label: {
          show: isPrinted,
          fontSize: t.size,
          formatter: (p: { dataIndex: number }) => {
            const value = cells[p.dataIndex]?.value;
            return value === null || value === undefined ? '' : shortNumber(value, { ...format, unit: '' });
          },
        },
        data: cells.map((c) => ({
          value: [c.x, c.y, c.value ?? '-'],
          label: isPrinted && c.value !== null ? { color: onColour(colours.of(c.value), t) } : undefined,
          itemStyle: { borderColor: t.surface, borderWidth: 1, opacity: opacityOf(selection, c.member, false) },
        })),
      },
    ],
  };
  option.tooltip = {
    ...(option.tooltip as object),
    formatter: (p: { dataIndex: number; color: string }) => {
      const c = cells[p.dataIndex];
      return c
        ? `<div>${html(name(c))}</div>${tips.of(c.row, p.color, figure.column.title, c.value, figure.column)}`
        : '';
    },
  };
  return {
    option,
    marks: cells.map((c, i) => ({
      member: c.member,
      isRest: false,
      text: `${name(c)}: ${label(c.value, figure.column)}${after(tips.words(c.row))}`,
      series: 0,
      data: i,
    })),
  };
}
