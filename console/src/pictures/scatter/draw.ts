import type { EChartsCoreOption } from 'echarts/core';
import type { ColumnInfo, Value } from '../../api/client';
import type { Tokens } from '../../look/tokens';
import { allOthers, formatOf, label } from '../../model/labels';
import { type Plane, seenThrough } from '../../model/lens';
import { figureLabels } from '../parts/cartesian/axes';
import { colourOf, figureColours } from '../parts/colours';
import {
  after,
  base,
  besidePoint,
  type Drawing,
  type DrawingInput,
  html,
  opacityOf,
  partsOf,
  roomForNote,
  tip,
  tipsOf,
} from '../parts/drawing';
import { patternOf } from '../parts/patterns';
import { scaleOf } from '../parts/scale';

/** With more points than this each is small, so that they do not cover one another. */
const dense = 500;

/** The shapes of points in order, and how they stand in a text. */
const symbols = ['circle', 'rect', 'triangle', 'diamond', 'emptyCircle', 'emptyRect', 'emptyTriangle', 'emptyDiamond'];
const signs = ['●', '■', '▲', '◆', '○', '□', '△', '◇'];

interface Ends {
  min: number;
  max: number;
  interval?: number;
}

/** Both axes: what of them is all, and what of it is seen. */
function axesOf(across: [number, number], up: [number, number], { lens, isSmall }: DrawingInput) {
  const [x, y] = [across, up].map((ends) => roomAtEnds(ends, isSmall ? 3 : 6)) as [Ends, Ends];
  const plane: Plane = { x: [x.min, x.max], y: [y.min, y.max] };
  if (!lens) return { plane, x, y, seen: plane };
  const seen = seenThrough(lens, plane);
  const part = ([min, max]: [number, number]): Ends => ({ min, max });
  return { plane, x: part(seen.x), y: part(seen.y), seen };
}

/** What an axis of figures is like; where it is a part, its ends are no round numbers and not written. */
const axisOf = (column: ColumnInfo, { min, max, interval }: Ends, t: Tokens) => ({
  type: 'value',
  scale: true,
  min,
  max,
  ...(interval === undefined ? {} : { interval }),
  name: [column.title, formatOf(column).unit].filter(Boolean).join(', '),
  nameLocation: 'middle',
  nameTextStyle: { color: t.quiet, fontSize: t.size },
  axisLabel: {
    ...figureLabels(formatOf(column), t),
    ...(interval === undefined ? { showMinLabel: false, showMaxLabel: false } : {}),
  },
});

/** The ends of an axis with a little room beyond its figures, at round numbers. */
const roomAtEnds = ([least, most]: [number, number], steps: number): Ends => {
  const room = (most - least || Math.abs(most) || 1) * 0.04;
  const { interval } = scaleOf([0, most - least + 2 * room], steps);
  const at = (v: number) => Number((v * interval).toPrecision(12));
  return { min: at(Math.floor((least - room) / interval)), max: at(Math.ceil((most + room) / interval)), interval };
};

/** A point for each member, placed by two figures. */
export function draw(input: DrawingInput): Drawing {
  const { table, tokens: t, selection } = input;
  const parts = partsOf(table);
  const { tile } = input;
  const members = Math.max(1, tile.by?.length ?? 1);
  const [by] = parts.groups;
  const split = parts.groups[members];
  const [across, up, size] = parts.figures;
  if (across && up && size && !by) return cells(input);
  if (!by || !across || !up) return { option: base(t), marks: [] };
  const shapeAt = parts.groups.findIndex((g, i) => i < members && g.name === tile.options?.shape);
  const shapeBy = parts.groups[shapeAt];
  const shapes = shapeBy ? [...new Set(parts.group(shapeAt))].sort() : [];
  const tips = tipsOf(input);
  const most = (input.ends?.[2] ?? size?.values ?? []).reduce<number>((max, v) => Math.max(max, Math.abs(v ?? 0)), 1);
  const all = Array.from({ length: parts.rows }, (_, row) => ({
    row,
    member: Array.from({ length: members }, (_, g) => parts.group(g)[row] ?? null),
    shape: shapeBy ? shapes.indexOf(parts.group(shapeAt)[row] ?? null) : undefined,
    part: split ? (parts.group(members)[row] ?? null) : undefined,
    isRest: parts.isRest(row),
    x: across.values[row] ?? null,
    y: up.values[row] ?? null,
    radius: size ? 5 + 19 * Math.sqrt(Math.abs(size.values[row] ?? 0) / most) : parts.rows > dense ? 4 : 9,
  })).filter((p): p is typeof p & { x: number; y: number } => p.x !== null && p.y !== null);
  // Where no point has both figures there is no axis either.
  if (all.length === 0) return { option: base(t), marks: [] };
  const every = split ? [...new Map(all.map((p) => [JSON.stringify(p.part), p.part as Value])).values()] : [];
  const points = split ? all.filter((p) => !input.hidden?.has(label(p.part ?? null, split))) : all;
  const coloured = (part: Value) => (split ? colourOf(split, part, t) : (t.series[0] ?? t.accent));
  const step = t.size / 12;
  const note = shapeBy ? noteOfShapes(shapes, shapeBy, input) : undefined;
  const left = 54 * step;
  const above = 24 * step;
  const below = 40 * step + (note ? roomForNote(note, input) : 0);
  const of = (values: number[]): [number, number] =>
    values.reduce<[number, number]>(
      ([low, high], v) => [Math.min(low, v), Math.max(high, v)],
      [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY],
    );
  const axes = axesOf(input.ends?.[0] ?? of(all.map((p) => p.x)), input.ends?.[1] ?? of(all.map((p) => p.y)), input);
  const axis = (column: ColumnInfo, gap: number, ends: Ends) => ({
    ...axisOf(column, ends, t),
    // The name of the upright axis stands at its middle, which is above the tile's where a note is below.
    nameTruncate: {
      maxWidth:
        gap > 30 * step ? Math.min(input.height - 50, input.height + above - below - 4) : input.width - left - 16,
    },
    nameGap: gap,
    splitLine: { lineStyle: { color: t.hairline } },
  });
  // With more points than this names would cover one another: they stand in the tip.
  const { seen } = axes;
  const isIn = (v: number, [least, greatest]: [number, number]) => v >= least && v <= greatest;
  const isNamed = points.filter((p) => isIn(p.x, seen.x) && isIn(p.y, seen.y)).length <= 30 && !input.isSmall;
  const at = (x: number) => left + ((x - seen.x[0]) / (seen.x[1] - seen.x[0])) * (input.width - left - 16);
  const name = (p: (typeof points)[number]) =>
    p.isRest ? allOthers : p.member.map((m, g) => label(m, parts.groups[g] as ColumnInfo)).join(', ');
  const named = (p: (typeof points)[number]) =>
    p.isRest || !shapeBy
      ? name(p)
      : label(p.member[shapeAt === 0 ? 1 : 0], parts.groups[shapeAt === 0 ? 1 : 0] as ColumnInfo);
  const whole = (p: (typeof points)[number]) => (split ? `${name(p)}, ${label(p.part, split)}` : name(p));
  const symbolOf = (p: (typeof points)[number]) =>
    p.shape !== undefined
      ? symbols[p.shape % symbols.length]
      : t.patterns
        ? patternOf(t, split ? every.indexOf(p.part ?? null) : 0)?.symbol
        : undefined;
  const looks = looksOf(points, {
    symbolOf,
    colourOf: (p) => coloured(p.part ?? null),
    opacityOf: (p) => opacityOf(selection, p.member, p.isRest) * (points.length > dense ? 0.55 : 0.9),
  });
  const option: EChartsCoreOption = {
    ...base(t, false),
    grid: { left, right: 16, top: above, bottom: below },
    xAxis: axis(across.column, 26 * step, axes.x),
    yAxis: axis(up.column, 42 * step, axes.y),
    series: [
      {
        type: 'scatter',
        color: t.series[0],
        selectedMode: false,
        label: {
          show: isNamed,
          position: 'top',
          distance: 3,
          color: t.ink,
          fontSize: t.size - 1,
          // Read over the points of others, and never one name over another.
          textBorderColor: t.surface,
          textBorderWidth: 2,
          minMargin: 12,
          // The shape says the other field.
          formatter: (p: { dataIndex: number }) =>
            points[p.dataIndex] ? named(points[p.dataIndex] as (typeof points)[number]) : '',
        },
        labelLayout: { hideOverlap: true },
        ...(points.length > dense && !isNamed
          ? { ...looks.ofAll, data: points.map((p) => [p.x, p.y]) }
          : {
              data: points.map((p) => ({
                value: [p.x, p.y],
                ...looks.of(p),
                // At the edges a name stands beside its point: there it would be cut.
                ...(isNamed ? { label: besidePoint(named(p), at(p.x) - left, input.width - left - 8, t) } : {}),
              })),
            }),
      },
    ],
  };
  option.tooltip = {
    ...(option.tooltip as object),
    formatter: (over: { dataIndex: number }) => {
      const p = points[over.dataIndex];
      if (!p) return '';
      const colour = coloured(p.part ?? null);
      const figures = [across, up, ...(size ? [size] : [])];
      const last = figures[figures.length - 1] as (typeof figures)[number];
      const whose = `<div>${html(whole(p))}</div>`;
      if (tips.isSentence) return tips.of(p.row, colour, '', null, last.column);
      return `${whose}${figures
        .slice(0, -1)
        .map((f) => tip(colour, f.column.title, f.values[p.row], f.column))
        .join('')}${tips.of(p.row, colour, last.column.title, last.values[p.row], last.column)}`;
    },
  };
  return {
    option,
    note,
    legend: split
      ? every.map((part, at) => ({
          name: label(part, split),
          colour: coloured(part),
          mark: 'point',
          pattern: patternOf(t, at),
        }))
      : undefined,
    points: points.map((p) => [p.x, p.y]),
    plane: axes.plane,
    marks: points.map((p, i) => ({
      member: p.member,
      isRest: p.isRest,
      // Of many points few are ever read.
      get text() {
        return `${whole(p)}: ${label(p.x, across.column)}, ${label(p.y, up.column)}${after(tips.words(p.row))}`;
      },
      series: 0,
      data: i,
    })),
  };
}

/**
 * How points look: each by itself, or all of them by what is asked of each when it is drawn, which of many takes a part of the time.
 * There its opacity is a part of its colour, of six hexadecimal digits, since nothing else of a style can be asked of each.
 */
function looksOf<P extends { radius: number }>(
  points: readonly P[],
  by: { symbolOf: (p: P) => string | undefined; colourOf: (p: P) => string; opacityOf: (p: P) => number },
) {
  const point = ({ dataIndex }: { dataIndex: number }) => points[dataIndex] as P;
  const alpha = (p: P) => Math.round(by.opacityOf(p) * 255);
  return {
    of: (p: P) => ({
      symbolSize: p.radius,
      symbol: by.symbolOf(p),
      itemStyle: { color: by.colourOf(p), opacity: by.opacityOf(p) },
    }),
    ofAll: {
      symbolSize: (_: unknown, at: { dataIndex: number }) => point(at).radius,
      symbol: (_: unknown, at: { dataIndex: number }) => by.symbolOf(point(at)) ?? 'circle',
      itemStyle: {
        color: (at: { dataIndex: number }) =>
          `${by.colourOf(point(at))}${alpha(point(at)).toString(16).padStart(2, '0')}`,
      },
    },
  };
}

/** Which shape means which member: as many as leave two thirds of the height to the picture. The tips tell all. */
function noteOfShapes(shapes: Value[], by: ColumnInfo, input: DrawingInput): string {
  const texts = shapes.map((v, i) => `${signs[i % signs.length]}\u00a0${label(v, by)}`);
  const upTo = (n: number) =>
    [...texts.slice(0, n), ...(n < texts.length ? [`and ${texts.length - n} more`] : [])].join('  ');
  let n = texts.length;
  while (n > 1 && roomForNote(upTo(n), input) > input.height / 3) n--;
  return upTo(n);
}

/** Points that are too many to draw: cells, the darker the more points they have. */
function cells(input: DrawingInput): Drawing {
  const { table, tokens: t } = input;
  const [across, up, points] = partsOf(table).figures;
  const sizes = table.columns.flatMap((c, i) => (c.role === 'tip' ? [table.values[i]?.[0]] : []));
  if (!across || !up || !points || points.values.length === 0) return { option: base(t), marks: [] };
  const colours = figureColours(
    points.values.map((v) => Math.log(v ?? 1)),
    t,
    undefined,
  );
  const [width, height] = sizes.map(Number) as [number, number];
  const edges = (values: (number | null)[], cell: number): [number, number] => [
    Math.min(...values.map((v) => v ?? 0)) - cell / 2,
    Math.max(...values.map((v) => v ?? 0)) + cell / 2,
  ];
  const axes = axesOf(edges(across.values, width), edges(up.values, height), input);
  const axis = (column: ColumnInfo, ends: Ends) => ({ ...axisOf(column, ends, t), splitLine: { show: false } });
  const step = t.size / 12;
  return {
    option: {
      ...base(t, false),
      grid: { left: 54 * step, right: 16, top: 24 * step, bottom: 58 * step },
      xAxis: { ...axis(across.column, axes.x), nameGap: 26 * step },
      yAxis: { ...axis(up.column, axes.y), nameGap: 42 * step },
      series: [
        {
          type: 'custom',
          clip: true,
          // The scale is that of the logarithm: few cells have most of the points.
          renderItem: (_: unknown, api: CustomApi) => {
            const [x, y] = [api.value(0) as number, api.value(1) as number];
            const [left, top] = api.coord([x - width / 2, y + height / 2]) as [number, number];
            const [right, bottom] = api.coord([x + width / 2, y - height / 2]) as [number, number];
            return {
              type: 'rect',
              shape: { x: left, y: top, width: right - left + 0.5, height: bottom - top + 0.5 },
              style: { fill: colours.of(Math.log(Math.max(1, api.value(2) as number))) },
            };
          },
          data: across.values.map((x, i) => [x, up.values[i] ?? null, points.values[i] ?? null]),
        },
      ],
      tooltip: {
        ...(base(t).tooltip as object),
        formatter: ({ data: [x, y, n] }: { data: [number, number, number] }) =>
          tip(t.accent, across.column.title, x, across.column) +
          tip('transparent', up.column.title, y, up.column) +
          tip('transparent', points.column.title, n, points.column),
      },
    },
    marks: [],
    plane: axes.plane,
  };
}

/** What the drawing library gives to whoever draws an item of its own. */
interface CustomApi {
  value: (dimension: number) => unknown;
  coord: (point: [number, number]) => number[];
}
