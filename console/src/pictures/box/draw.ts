import type { EChartsCoreOption } from 'echarts/core';
import type { ColumnInfo } from '../../api/client';
import { allOthers, formatOf, isWords, label } from '../../model/labels';
import { figuresAxis, membersAxis, roomAround } from '../parts/cartesian/axes';
import { levelsOf, markBands, markLines, referenced, roomOf } from '../parts/cartesian/references';
import {
  after,
  base,
  type Drawing,
  type DrawingInput,
  html,
  namedBelow,
  opacityOf,
  partsOf,
  tip,
  tipsOf,
} from '../parts/drawing';
import { scaleOf } from '../parts/scale';

/** Five figures of each member as a box with whiskers. */
export function draw(input: DrawingInput): Drawing {
  const { tile, table, tokens: t, selection } = input;
  const parts = partsOf(table);
  const by = parts.groups[0];
  const five = parts.figures.slice(0, 5);
  const [first, , , , greatest] = five;
  if (by && five.length === 1) return singleValues(input);
  if (!by || !first || !greatest) return { option: base(t), marks: [] };
  const tips = tipsOf(input);
  const boxes = Array.from({ length: parts.rows }, (_, row) => {
    const isRest = parts.isRest(row);
    const member = parts.group(0)[row] ?? null;
    return {
      member,
      isRest,
      name: isRest ? allOthers : label(member, by),
      figures: five.map((f) => f.values[row] ?? null),
    };
  });
  const lying = isWords(by);
  const { unit } = formatOf(first.column);
  const places = new Map(boxes.map((b, i) => [JSON.stringify([b.member]), i]));
  const beyond = (input.outliers ?? []).flatMap((o) => {
    const line = places.get(JSON.stringify(o.member));
    return line === undefined ? [] : [{ line, value: Number(o.value), count: o.count }];
  });
  const known = [...boxes.flatMap((b) => b.figures), ...beyond.map((o) => o.value)];
  const steps = lying ? 4 : Math.max(2, Math.floor(input.height / (60 * t.scale)));
  const category = membersAxis(
    input,
    boxes.map((b) => b.name),
    lying,
  );
  const ends = scaleOf(input.scale ?? [...known, ...referenced(tile)], steps);
  const value = figuresAxis(ends, steps, first.column, input, lying);
  const levels = levelsOf(tile, t, lying, ends, input);
  const option: EChartsCoreOption = {
    ...base(t),
    grid: roomAround(unit, input, lying, lying ? roomOf(levels, t) : 0),
    xAxis: lying ? value : category,
    yAxis: lying ? category : value,
    series: [
      {
        type: 'boxplot',
        layout: lying ? 'vertical' : 'horizontal',
        selectedMode: false,
        boxWidth: [6 * t.scale, 34 * t.scale],
        markLine: markLines(tile, t, lying, levels),
        markArea: markBands(tile, t, lying),
        emphasis: { itemStyle: { borderWidth: 2 * t.scale } },
        data: boxes.map((b) => ({
          value: b.figures.map((f) => f ?? '-'),
          itemStyle: {
            color: t.tint,
            borderColor: b.isRest ? t.rest : t.accent,
            borderWidth: 1.5 * t.scale,
            opacity: tile.pick === 'none' ? 1 : opacityOf(selection, [b.member], b.isRest),
          },
        })),
      },
      ...(beyond.length === 0
        ? []
        : [
            {
              type: 'scatter',
              selectedMode: false,
              symbolSize: Math.max(3, 4.5 * t.scale),
              // A click on one means its box.
              data: beyond.map((o) => ({
                value: lying ? [o.value, o.line] : [o.line, o.value],
                marks: [o.line],
                itemStyle: {
                  color: 'transparent',
                  borderColor: boxes[o.line]?.isRest ? t.rest : t.accent,
                  borderWidth: 1.25 * t.scale,
                  opacity: tile.pick === 'none' ? 1 : opacityOf(selection, [boxes[o.line]?.member ?? null], false),
                },
              })),
            },
          ]),
    ],
  };
  option.tooltip = {
    ...(option.tooltip as object),
    formatter: (p: { dataIndex: number; seriesIndex: number }) => {
      const single = p.seriesIndex === 1 ? beyond[p.dataIndex] : undefined;
      if (single)
        return `<div>${html(boxes[single.line]?.name ?? '')}</div>${tip(t.accent, rowsOf(single.count), single.value, first.column)}`;
      const found = boxes[p.dataIndex];
      return found
        ? `<div>${html(found.name)}</div>${five
            .slice(tips.isSentence ? 5 : 0, 4)
            .map((f, i) => tip(t.accent, f.column.title, found.figures[i] ?? null, f.column))
            .join(
              '',
            )}${tips.of(p.dataIndex, t.accent, greatest.column.title, found.figures[4] ?? null, greatest.column)}`
        : '';
    },
  };
  return {
    option,
    lying,
    marks: boxes.map((b, i) => ({
      member: [b.member],
      isRest: b.isRest,
      text: `${b.name}: ${five
        .map((f, at) => `${f.column.title} ${label(b.figures[at] ?? null, f.column)}`)
        .join(', ')}${after(tips.words(i))}`,
      series: 0,
      data: i,
    })),
  };
}

const rowsOf = (count: number) => (count === 1 ? '1 row' : `${count.toLocaleString('en')} rows`);

/** More dots than this on one value can't be told apart. */
const mostDots = 120;

/** The single values of what a box was of: a dot for each row, equal ones on one another. */
function singleValues(input: DrawingInput): Drawing {
  const { tile, tokens: t, selection, width, height } = input;
  const parts = partsOf(input.table);
  const by = parts.groups[0] as ColumnInfo;
  const counts = parts.figures[0]?.values ?? [];
  const values = Array.from({ length: parts.rows }, (_, row) => row).filter((row) => parts.group(0)[row] !== null);
  const at = (row: number) => Number(parts.group(0)[row]);
  const most = Math.max(1, ...values.map((row) => counts[row] ?? 0));
  // So many rows are one dot, where there are too many for one each.
  const each = Math.ceil(most / mostDots);
  const room = Math.max(20, height - 5 * t.size);
  const size = Math.max(2, Math.min(7 * t.scale, room / Math.ceil(most / each), width / 60));
  const steps = Math.max(2, Math.floor(width / (8 * t.size)));
  const first = values[0] === undefined ? 0 : at(values[0]);
  const last = values.reduce((greatest, row) => Math.max(greatest, at(row)), first);
  const ends = scaleOf([first, last], steps);
  const dots = values.flatMap((row, i) =>
    Array.from({ length: Math.max(1, Math.ceil((counts[row] ?? 0) / each)) }, (_, k) => ({
      value: [at(row), k + 0.5],
      marks: [i],
      itemStyle: {
        color: t.accent,
        opacity: 0.75 * (tile.pick === 'none' ? 1 : opacityOf(selection, [parts.group(0)[row] ?? null], false)),
      },
    })),
  );
  const option: EChartsCoreOption = {
    ...base(t),
    grid: { ...roomAround('', input, true, 0), right: 16, bottom: (each > 1 ? 2 * t.size + 6 : t.size) + 6 },
    xAxis: {
      ...figuresAxis(ends, steps, by, input, true),
      ...namedBelow([by.title, formatOf(by).unit].filter(Boolean).join(', '), input),
    },
    // As high as there is room for dots, so that a few of them lie at the bottom.
    yAxis: { type: 'value', min: 0, max: Math.max(Math.ceil(most / each), room / size), show: false },
    series: [{ type: 'scatter', selectedMode: false, symbolSize: size, data: dots }],
  };
  option.tooltip = {
    ...(option.tooltip as object),
    formatter: (p: { dataIndex: number }) => {
      const row = values[dots[p.dataIndex]?.marks[0] ?? -1];
      return row === undefined ? '' : tip(t.accent, rowsOf(counts[row] ?? 0), at(row), by);
    },
  };
  return {
    option,
    points: values.map((row) => [at(row), 0.5]),
    marks: values.map((row, i) => ({
      member: [parts.group(0)[row] ?? null],
      isRest: false,
      text: `${label(at(row), by)}: ${rowsOf(counts[row] ?? 0)}`,
      series: 0,
      data: i,
    })),
    note: each > 1 ? `One dot is ${each} rows.` : undefined,
  };
}
