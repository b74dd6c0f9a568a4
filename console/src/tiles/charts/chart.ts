import type { EChartsCoreOption } from 'echarts/core';
import type { ColumnInfo, TileInfo, TileResult, Value } from '../../api/client';
import type { Tokens } from '../../look/tokens';
import { allOthers, formatOf, isWords, label, shortNumber } from '../../model/labels';
import { periodsBetween } from '../../model/periods';
import { hasPick, isPicked, isRestPicked, type Member, type Selection } from '../../model/selections';
import { colourOf } from './colours';

/** A mark that can be picked, and where it is drawn. */
export interface Mark {
  member: Member;
  isRest: boolean;
  text: string;
  series: number;
  data: number;
}

/** A chart as the drawing library takes it, and its marks. */
export interface Chart {
  option: EChartsCoreOption;
  marks: Mark[];
  /** The members along a horizontal axis of dates or numbers, on which a range can be drawn. */
  along?: { members: Value[]; at: string | null };
  /** True for bars that lie, so that their members stand one below the other. */
  lying?: boolean;
  /** For a scatter: where each mark lies. */
  points?: [number, number][];
}

export interface ChartInput {
  tile: TileInfo;
  table: NonNullable<TileResult['table']>;
  partial: Value[];
  /** Members of the first two groups that together name a period which is not whole. */
  partialPairs?: Value[][];
  dashboard: string;
  weekStarts: string;
  selection?: Selection;
  tokens: Tokens;
  width: number;
  height: number;
  /** The least and greatest figure of the axis, where two pictures are to be compared. */
  scale?: [number, number];
}

interface Parts {
  groups: ColumnInfo[];
  figures: { column: ColumnInfo; values: (number | null)[] }[];
  group: (g: number) => Value[];
  isRest: (row: number) => boolean;
  rows: number;
}

const faint = 0.3;
const html = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** Draws a result as the tile's picture. A pure function: the same input gives the same chart. */
export function chart(input: ChartInput): Chart {
  switch (input.tile.picture) {
    case 'pie':
      return pie(input);
    case 'heatmap':
      return heatmap(input);
    case 'scatter':
      return scatter(input);
    default:
      return cartesian(input);
  }
}

function partsOf(table: ChartInput['table']): Parts {
  const at = (role: string) => table.columns.map((c, i) => ({ c, i })).filter((x) => x.c.role === role);
  const groups = at('group');
  const rest = at('rest')[0]?.i;
  return {
    groups: groups.map((g) => g.c),
    figures: at('figure').map((f) => ({ column: f.c, values: (table.values[f.i] ?? []) as (number | null)[] })),
    group: (g) => (table.values[groups[g]?.i ?? -1] ?? []) as Value[],
    isRest: (row) => rest !== undefined && table.values[rest]?.[row] === true,
    rows: table.values[0]?.length ?? 0,
  };
}

const opacityOf = (selection: Selection | undefined, member: Member, isRest: boolean) =>
  !hasPick(selection) || (isRest ? isRestPicked(selection) : isPicked(selection, member)) ? 1 : faint;

/** A line of a tooltip: colour, name, figure. */
const tip = (colour: string, name: string, value: Value | undefined, column: ColumnInfo) =>
  `<div style="display:flex;gap:8px;align-items:center"><span style="width:8px;height:8px;border-radius:2px;background:${colour}"></span><span style="flex:1">${html(name)}</span><b>${html(label(value, column))}</b></div>`;

const base = (t: Tokens): EChartsCoreOption => ({
  animation: false,
  textStyle: { fontFamily: '"Inter Variable", system-ui, sans-serif', fontSize: 12, color: t.quiet },
  tooltip: {
    confine: true,
    backgroundColor: t.surface,
    borderColor: t.hairline,
    padding: [6, 10],
    textStyle: { color: t.ink, fontSize: 12 },
    transitionDuration: 0,
  },
});

/** The names of series above a picture, in their colours. */
const legendOf = (t: Tokens, names: string[]) => ({
  type: 'scroll',
  top: 0,
  left: 0,
  itemWidth: 10,
  itemHeight: 10,
  icon: 'roundRect',
  textStyle: { color: t.ink, fontSize: 12 },
  data: names,
});

function cartesian(input: ChartInput): Chart {
  const { tile, table, tokens: t, dashboard, selection, partial } = input;
  const parts = partsOf(table);
  const [by, split] = parts.groups;
  const first = parts.figures[0];
  if (!by || !first) return { option: base(t), marks: [] };
  const isBar = tile.picture === 'bar';
  const isTime = by.kind === 'date' || by.kind === 'timestamp';

  // The members along the axis in reading order; the rest is a member of its own at the end.
  const restKey = 'rest';
  const keyOf = (row: number) => (parts.isRest(row) ? restKey : JSON.stringify(parts.group(0)[row] ?? null));
  const members = new Map<string, { member: Value; isRest: boolean }>();
  for (let row = 0; row < parts.rows; row++)
    members.set(keyOf(row), { member: parts.group(0)[row] ?? null, isRest: parts.isRest(row) });
  let keys = [...members.keys()];
  if (isTime && by.at) {
    const known = keys.map((k) => members.get(k)?.member).filter((m): m is string => typeof m === 'string');
    const all = known.length > 0 ? periodsBetween(known[0] as string, known[known.length - 1] as string, by.at) : null;
    if (all) {
      for (const period of all)
        if (!members.has(JSON.stringify(period)))
          members.set(JSON.stringify(period), { member: period, isRest: false });
      const late = keys.filter((k) => typeof members.get(k)?.member !== 'string');
      keys = [...all.map((p) => JSON.stringify(p)), ...late];
    }
  }
  const place = new Map(keys.map((k, i) => [k, i]));
  const names = keys.map((k) => (members.get(k)?.isRest ? allOthers : label(members.get(k)?.member, by)));
  const wholeKeys = new Set(partial.map((p) => JSON.stringify(p)));
  const pairKeys = new Set((input.partialPairs ?? []).map((p) => JSON.stringify(p)));
  /** True if the period of a point is not whole, by itself or together with the split of its series. */
  const isCut = (i: number, part?: Value) =>
    wholeKeys.has(keys[i] ?? '') ||
    (pairKeys.size > 0 &&
      part !== undefined &&
      pairKeys.has(JSON.stringify([members.get(keys[i] ?? '')?.member, part])));

  // One series for each measure, or for each member of the split.
  const splits = split ? [...new Map(parts.group(1).map((v) => [JSON.stringify(v), v])).values()] : [];
  // Years and other periods in calendar order, whatever the first point of each; ISO dates sort as texts.
  if (split && !isWords(split))
    splits.sort((a, b) => (a === b ? 0 : a === null ? 1 : b === null ? -1 : a < b ? -1 : 1));
  const series = split
    ? splits.map((s) => ({
        part: s as Value | undefined,
        name: label(s, split),
        colour: colourOf(dashboard, split.name, s, t, split.colours),
        column: first.column,
        values: spread(parts, keyOf, place, keys.length, first.values, s),
      }))
    : parts.figures.map((f, i) => ({
        part: undefined as Value | undefined,
        name: f.column.title,
        colour: t.series[i] ?? t.rest,
        column: f.column,
        values: spread(parts, keyOf, place, keys.length, f.values),
      }));
  const keyed = split !== undefined || series.length > 1;
  const stacked = split !== undefined && tile.show[0]?.additive === true && (isBar || tile.picture === 'area');
  const lying = isBar && !isTime && isWords(by);
  // The unit stands once, at the end of the axis, and nowhere where the measures have different ones: each name has its own then.
  const units = [...new Set(series.map((s) => formatOf(s.column).unit))];
  const format = { ...formatOf(first.column), unit: '' };
  const unit = units.length === 1 ? units[0] : '';
  if (units.length > 1) for (const s of series) s.name = [s.name, formatOf(s.column).unit].filter(Boolean).join(', ');
  // A period that is not whole is no fall: the line to it is dotted. Stacked areas lie one on the other and stay as they are.
  const isDotted = !isBar && !stacked;
  const broken = isBar && !input.scale ? brokenRest(series, keys.indexOf(restKey)) : undefined;
  const room = (lying ? input.height : input.width) / Math.max(1, names.length);

  const category = {
    type: 'category',
    data: names,
    inverse: lying,
    axisLine: { lineStyle: { color: t.hairline } },
    axisTick: { show: false },
    axisLabel: {
      color: t.quiet,
      fontSize: 12,
      width: lying ? Math.min(150, input.width * 0.45) : undefined,
      overflow: 'truncate',
      hideOverlap: true,
      interval: lying ? (input.height / names.length < 13 ? 'auto' : 0) : 'auto',
    },
  };
  const value = {
    type: 'value',
    ...(input.scale ? { min: Math.min(0, input.scale[0]), max: input.scale[1] } : {}),
    ...(broken ? { min: 0, max: broken.end * (lying ? 1.18 : 1.1) } : {}),
    splitNumber: lying ? 3 : Math.max(2, Math.floor(input.height / 60)),
    axisLabel: {
      color: t.quiet,
      fontSize: 12,
      hideOverlap: true,
      ...(broken ? { showMaxLabel: false } : {}),
      formatter: (v: number) => shortNumber(v, format, 3),
    },
    splitLine: { lineStyle: { color: t.hairline } },
    ...(unit
      ? {
          name: unit,
          nameLocation: 'end',
          nameGap: lying ? 6 : 8,
          nameTextStyle: { color: t.quiet, fontSize: 12, align: lying ? 'left' : 'right' },
        }
      : {}),
  };
  const option: EChartsCoreOption = {
    ...base(t),
    grid: {
      left: 4,
      right: lying ? 12 + (unit ? 6 + unit.length * 7 : 0) : 28,
      top: (keyed ? 26 : 8) + (unit && !lying ? 16 : 0),
      bottom: 6,
      containLabel: true,
      outerBoundsMode: 'same',
      outerBoundsContain: 'axisLabel',
    },
    legend: keyed
      ? legendOf(
          t,
          series.map((x) => x.name),
        )
      : undefined,
    xAxis: lying ? value : category,
    yAxis: lying ? category : value,
    series: series.map((s) => ({
      name: s.name,
      type: isBar ? 'bar' : 'line',
      color: s.colour,
      stack: stacked || broken ? 'all' : undefined,
      // As thick as reads well where there is room for more, as in a tile that is enlarged.
      barMaxWidth: Math.max(28, Math.min(44, room * 0.4)),
      barCategoryGap: '28%',
      symbol: isBar ? undefined : 'circle',
      symbolSize: 5,
      showSymbol: !isBar,
      showAllSymbol: true,
      lineStyle: isBar ? undefined : { width: 1.75 },
      areaStyle: tile.picture === 'area' ? { opacity: 0.18 } : undefined,
      emphasis: { focus: 'none' },
      selectedMode: false,
      data: s.values.map((v, i) => {
        const m = members.get(keys[i] ?? '');
        const cut = isCut(i, s.part);
        const opacity = tile.pick === 'none' ? 1 : opacityOf(selection, [m?.member ?? null], m?.isRest ?? false);
        const symbols = isBar
          ? {}
          : {
              symbolSize: cut ? 7 : s.values.filter((x) => x !== null).length > 60 ? 0 : s.values.length > 24 ? 2 : 4,
            };
        return {
          value: broken && i === broken.at ? broken.body : isDotted && cut ? null : v,
          ...symbols,
          itemStyle: isBar
            ? {
                color: m?.isRest ? t.rest : ((split ? undefined : fixedOf(by, m?.member)) ?? s.colour),
                opacity: cut ? opacity * 0.55 : opacity,
                borderColor: cut ? s.colour : undefined,
                borderType: 'dashed',
                borderWidth: cut ? 1 : 0,
              }
            : {
                color: cut ? t.surface : s.colour,
                borderColor: s.colour,
                borderWidth: cut ? 1.5 : 0,
                opacity,
              },
        };
      }),
    })),
  };
  if (isDotted)
    for (const s of series) {
      const cuts = s.values.map((v, i) => v !== null && isCut(i, s.part));
      if (!cuts.includes(true)) continue;
      (option.series as object[]).push({
        name: s.name,
        type: 'line',
        color: s.colour,
        symbol: 'circle',
        showAllSymbol: true,
        silent: true,
        selectedMode: false,
        lineStyle: { width: 1.5, type: 'dotted' },
        data: s.values.map((v, i) => {
          if (!cuts[i] && !cuts[i - 1] && !cuts[i + 1]) return null;
          const m = members.get(keys[i] ?? '');
          const opacity = tile.pick === 'none' ? 1 : opacityOf(selection, [m?.member ?? null], m?.isRest ?? false);
          return {
            value: v,
            symbolSize: cuts[i] ? 7 : 0,
            itemStyle: { color: t.surface, borderColor: s.colour, borderWidth: 1.5, opacity },
          };
        }),
      });
    }
  if (broken && series[0]) {
    const figure = shortNumber(broken.figure, { ...formatOf(first.column), unit: '' });
    const opacity = tile.pick === 'none' ? 1 : opacityOf(selection, [null], true);
    const piece = (length: number, itemStyle: object, labelled: boolean) => ({
      type: 'bar',
      stack: 'all',
      silent: true,
      selectedMode: false,
      barMaxWidth: Math.max(28, Math.min(44, room * 0.4)),
      barCategoryGap: '28%',
      data: keys.map((_, i) => (i === broken.at ? length : null)),
      itemStyle,
      label: {
        show: labelled,
        position: lying ? 'right' : 'top',
        color: t.ink,
        fontSize: 12,
        formatter: figure,
      },
    });
    (option.series as object[]).push(
      piece(broken.gap, { opacity: 0 }, false),
      piece(broken.end - broken.body - broken.gap, { color: t.rest, opacity }, true),
    );
  }
  option.tooltip = {
    ...(option.tooltip as object),
    trigger: 'axis',
    axisPointer: {
      type: isBar ? 'shadow' : 'line',
      shadowStyle: { color: t.tint, opacity: 0.5 },
      lineStyle: { color: t.quiet },
    },
    formatter: (points: { dataIndex: number; seriesIndex: number }[]) => {
      const i = points[0]?.dataIndex ?? 0;
      const head = `<div style="margin-bottom:2px">${html(names[i] ?? '')}${isCut(i) ? ' (part of it)' : ''}</div>`;
      return (
        head +
        points
          .map((p) => series[p.seriesIndex])
          .map((s) =>
            s
              ? tip(
                  s.colour,
                  `${s.name}${split && isCut(i, s.part) && !isCut(i) ? ' (part of it)' : ''}`,
                  s.values[i],
                  s.column,
                )
              : '',
          )
          .join('')
      );
    },
  };
  const marks = keys.flatMap((k, i): Mark[] => {
    const m = members.get(k);
    const shown = series
      .map((s) => {
        const figure = label(s.values[i], s.column);
        const part = isCut(i, s.part) && !isCut(i) ? ', part of the period' : '';
        return series.length > 1 ? `${s.name} ${figure}${part}` : figure;
      })
      .join(', ');
    return m
      ? [
          {
            member: [m.member],
            isRest: m.isRest,
            text: `${names[i]}: ${shown}${isCut(i) ? ', part of the period' : ''}`,
            series: 0,
            data: i,
          },
        ]
      : [];
  });
  const along = lying ? undefined : { members: keys.map((k) => members.get(k)?.member ?? null), at: by.at };
  return { option, marks, along, lying };
}

/**
 * The bar of "all others" drawn broken where it is so much longer than any other that those would be stubs: a body, a gap and an
 * end beyond the longest of the others, with its figure beside it.
 */
function brokenRest(series: { values: (number | null)[] }[], at: number) {
  const only = series.length === 1 ? series[0]?.values : undefined;
  const figure = only?.[at];
  if (!only || at < 0 || figure === null || figure === undefined) return undefined;
  const others = only.filter((v, i): v is number => i !== at && v !== null);
  const most = Math.max(0, ...others);
  if (most === 0 || others.some((v) => v < 0) || figure <= 2 * most) return undefined;
  return { at, figure, body: most * 1.05, gap: most * 0.03, end: most * 1.22 };
}

/** The colour that the definition fixes for a member, if it does. */
const fixedOf = (by: ColumnInfo, member: Value | undefined) =>
  member === null || member === undefined ? undefined : by.colours?.[String(member)];

/** The figures of one series at their places along the axis; what has no row is null. */
function spread(
  parts: Parts,
  keyOf: (row: number) => string,
  place: Map<string, number>,
  length: number,
  values: (number | null)[],
  split?: Value,
): (number | null)[] {
  const result: (number | null)[] = Array(length).fill(null);
  for (let row = 0; row < parts.rows; row++) {
    const at = place.get(keyOf(row));
    if (at !== undefined && (split === undefined || (parts.group(1)[row] ?? null) === split))
      result[at] = values[row] ?? null;
  }
  return result;
}

function pie(input: ChartInput): Chart {
  const { table, tokens: t, dashboard, selection, width } = input;
  const parts = partsOf(table);
  const by = parts.groups[0];
  const figure = parts.figures[0];
  if (!by || !figure) return { option: base(t), marks: [] };
  const total = figure.values.reduce((sum: number, v) => sum + (v ?? 0), 0);
  const slices = Array.from({ length: parts.rows }, (_, row) => {
    const member = parts.group(0)[row] ?? null;
    const isRest = parts.isRest(row);
    return {
      member,
      isRest,
      value: figure.values[row] ?? null,
      name: isRest ? allOthers : label(member, by),
      colour: isRest || member === null ? t.rest : colourOf(dashboard, by.name, member, t, by.colours),
    };
  });
  // Small enough that the labels beside it have room; where there is none, the names stand above and the shares inside.
  const isNarrow = width < 260;
  const radius = isNarrow
    ? Math.min(input.height * 0.36, width * 0.3)
    : Math.max(28, Math.min(input.height * 0.37, width / 2 - 100));
  const share = (v: number | null) => (total > 0 && v !== null ? `${((100 * v) / total).toFixed(1)} %` : '–');
  const option: EChartsCoreOption = {
    ...base(t),
    legend: isNarrow
      ? {
          type: 'scroll',
          top: 0,
          left: 0,
          itemWidth: 8,
          itemHeight: 8,
          icon: 'roundRect',
          textStyle: { color: t.ink, fontSize: 11 },
          selectedMode: false,
        }
      : undefined,
    series: [
      {
        type: 'pie',
        radius: ['0%', radius],
        center: ['50%', isNarrow ? '58%' : '50%'],
        selectedMode: false,
        startAngle: 90,
        minShowLabelAngle: isNarrow ? 40 : 12,
        emphasis: { scale: false },
        label: {
          position: isNarrow ? 'inside' : 'outside',
          color: isNarrow ? t.surface : t.ink,
          fontSize: isNarrow ? 11 : 12,
          lineHeight: 16,
          width: Math.max(40, width / 2 - radius - 20),
          overflow: 'truncate',
          formatter: (p: { dataIndex: number }) =>
            isNarrow
              ? share(slices[p.dataIndex]?.value ?? null).replace(/\.\d/, '')
              : `${slices[p.dataIndex]?.name}\n${share(slices[p.dataIndex]?.value ?? null)}`,
        },
        labelLine: { length: 6, length2: 6, lineStyle: { color: t.hairline } },
        data: slices.map((s) => ({
          name: s.name,
          value: s.value,
          itemStyle: {
            color: s.colour,
            opacity: opacityOf(selection, [s.member], s.isRest),
            borderColor: t.surface,
            borderWidth: 1,
          },
        })),
      },
    ],
  };
  option.tooltip = {
    ...(option.tooltip as object),
    formatter: (p: { dataIndex: number }) => {
      const s = slices[p.dataIndex];
      return s ? `${tip(s.colour, s.name, s.value, figure.column)}<div>${share(s.value)} of those shown</div>` : '';
    },
  };
  return {
    option,
    marks: slices.map((s, i) => ({
      member: [s.member],
      isRest: s.isRest,
      text: `${s.name}: ${label(s.value, figure.column)}, ${share(s.value)} of those shown`,
      series: 0,
      data: i,
    })),
  };
}

function heatmap(input: ChartInput): Chart {
  const { table, tokens: t, selection, height, weekStarts } = input;
  const parts = partsOf(table);
  const [down, across] = parts.groups;
  const figure = parts.figures[0];
  if (!down || !across || !figure) return { option: base(t), marks: [] };
  const axis = (g: number, column: ColumnInfo) => {
    const all = [...new Map(parts.group(g).map((v) => [JSON.stringify(v), v])).values()];
    const shift = weekStarts === 'sunday' ? 7 : weekStarts === 'saturday' ? 6 : 1;
    const rank = (v: Value) => (column.at === 'day_of_week' && typeof v === 'number' ? (v + 7 - shift) % 7 : v);
    return all.sort((a, b) => (a === null ? 1 : b === null ? -1 : (rank(a) ?? 0) < (rank(b) ?? 0) ? -1 : 1));
  };
  const ys = axis(0, down);
  const xs = axis(1, across);
  const cells = Array.from({ length: parts.rows }, (_, row) => {
    const member: Member = [parts.group(0)[row] ?? null, parts.group(1)[row] ?? null];
    return {
      member,
      value: figure.values[row] ?? null,
      x: xs.indexOf(member[1] ?? null),
      y: ys.indexOf(member[0] ?? null),
    };
  });
  const known = cells.map((c) => c.value).filter((v): v is number => v !== null);
  const [least, most] = [Math.min(...known), Math.max(...known)];
  const format = formatOf(figure.column);
  const axisOf = (values: Value[], column: ColumnInfo, inverse: boolean) => ({
    type: 'category',
    data: values.map((v) => label(v, column)),
    inverse,
    axisLine: { show: false },
    axisTick: { show: false },
    splitArea: { show: false },
    axisLabel: { color: t.quiet, fontSize: 12, hideOverlap: true },
  });
  const name = (c: { member: Member }) => `${label(c.member[0], down)} · ${label(c.member[1], across)}`;
  const option: EChartsCoreOption = {
    ...base(t),
    grid: {
      left: 4,
      right: 80,
      top: 4,
      bottom: 6,
      containLabel: true,
      outerBoundsMode: 'same',
      outerBoundsContain: 'axisLabel',
    },
    xAxis: axisOf(xs, across, false),
    yAxis: axisOf(ys, down, true),
    visualMap: {
      type: 'continuous',
      min: least,
      max: most === least ? least + 1 : most,
      calculable: false,
      orient: 'vertical',
      right: 0,
      top: 'middle',
      itemHeight: Math.max(40, Math.min(120, height - 70)),
      itemWidth: 12,
      precision: 4,
      inRange: { color: [...t.sequential] },
      text: [shortNumber(most, format), shortNumber(least, format)],
      textStyle: { color: t.quiet, fontSize: 12 },
      hoverLink: false,
    },
    series: [
      {
        type: 'heatmap',
        progressive: 0,
        selectedMode: false,
        emphasis: { itemStyle: { borderColor: t.ink, borderWidth: 1 } },
        data: cells.map((c) => ({
          value: [c.x, c.y, c.value ?? '-'],
          itemStyle: { borderColor: t.surface, borderWidth: 1, opacity: opacityOf(selection, c.member, false) },
        })),
      },
    ],
  };
  option.tooltip = {
    ...(option.tooltip as object),
    formatter: (p: { dataIndex: number; color: string }) => {
      const c = cells[p.dataIndex];
      return c ? `<div>${html(name(c))}</div>${tip(p.color, figure.column.title, c.value, figure.column)}` : '';
    },
  };
  return {
    option,
    marks: cells.map((c, i) => ({
      member: c.member,
      isRest: false,
      text: `${name(c)}: ${label(c.value, figure.column)}`,
      series: 0,
      data: i,
    })),
  };
}

function scatter(input: ChartInput): Chart {
  const { table, tokens: t, selection, dashboard } = input;
  const parts = partsOf(table);
  const [by, split] = parts.groups;
  const [across, up, size] = parts.figures;
  if (!by || !across || !up) return { option: base(t), marks: [] };
  const most = Math.max(1, ...(size?.values ?? []).map((v) => Math.abs(v ?? 0)));
  const points = Array.from({ length: parts.rows }, (_, row) => ({
    row,
    member: parts.group(0)[row] ?? null,
    part: split ? (parts.group(1)[row] ?? null) : undefined,
    isRest: parts.isRest(row),
    x: across.values[row] ?? null,
    y: up.values[row] ?? null,
    radius: size ? 5 + 19 * Math.sqrt(Math.abs(size.values[row] ?? 0) / most) : 9,
  })).filter((p): p is typeof p & { x: number; y: number } => p.x !== null && p.y !== null);
  const coloured = (part: Value) => (split ? colourOf(dashboard, split.name, part, t, split.colours) : t.series[0]);
  const shown = split ? [...new Map(points.map((p) => [JSON.stringify(p.part), p.part as Value])).values()] : [];
  const axis = (column: ColumnInfo, gap: number) => ({
    type: 'value',
    scale: true,
    name: [column.title, formatOf(column).unit].filter(Boolean).join(', '),
    nameLocation: 'middle',
    nameGap: gap,
    nameTextStyle: { color: t.quiet, fontSize: 12 },
    axisLabel: {
      color: t.quiet,
      fontSize: 12,
      hideOverlap: true,
      formatter: (v: number) => shortNumber(v, { ...formatOf(column), unit: '' }, 3),
    },
    splitLine: { lineStyle: { color: t.hairline } },
  });
  const name = (p: (typeof points)[number]) => (p.isRest ? allOthers : label(p.member, by));
  const whole = (p: (typeof points)[number]) => (split ? `${name(p)}, ${label(p.part, split)}` : name(p));
  const option: EChartsCoreOption = {
    ...base(t),
    grid: { left: 54, right: 16, top: split ? 28 : 10, bottom: 40 },
    legend: split
      ? {
          ...legendOf(
            t,
            shown.map((part) => label(part, split)),
          ),
          selectedMode: false,
        }
      : undefined,
    xAxis: axis(across.column, 26),
    yAxis: axis(up.column, 42),
    series: [
      {
        type: 'scatter',
        color: t.series[0],
        selectedMode: false,
        label: {
          show: points.length <= 30,
          position: 'top',
          distance: 3,
          color: t.ink,
          fontSize: 11,
          // Read over the points of others, and never one name over another.
          textBorderColor: t.surface,
          textBorderWidth: 2,
          minMargin: 12,
          formatter: (p: { dataIndex: number }) =>
            points[p.dataIndex] ? name(points[p.dataIndex] as (typeof points)[number]) : '',
        },
        labelLayout: { hideOverlap: true },
        data: points.map((p) => ({
          value: [p.x, p.y],
          symbolSize: p.radius,
          itemStyle: {
            ...(split ? { color: coloured(p.part ?? null) } : {}),
            opacity: opacityOf(selection, [p.member], p.isRest) * 0.9,
          },
        })),
      },
      // The legend tells the colours of series; the points are of one, so that each keeps its place among the marks.
      ...shown.map((part) => ({
        type: 'scatter',
        name: split ? label(part, split) : '',
        color: coloured(part),
        data: [],
      })),
    ],
  };
  option.tooltip = {
    ...(option.tooltip as object),
    formatter: (at: { dataIndex: number; color: string }) => {
      const p = points[at.dataIndex];
      if (!p) return '';
      const figures = [across, up, ...(size ? [size] : [])];
      return `<div>${html(whole(p))}</div>${figures.map((f) => tip(at.color, f.column.title, f.values[p.row], f.column)).join('')}`;
    },
  };
  return {
    option,
    points: points.map((p) => [p.x, p.y]),
    marks: points.map((p, i) => ({
      member: [p.member],
      isRest: p.isRest,
      text: `${whole(p)}: ${label(p.x, across.column)}, ${label(p.y, up.column)}`,
      series: 0,
      data: i,
    })),
  };
}
