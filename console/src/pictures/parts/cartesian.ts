import type { EChartsCoreOption } from 'echarts/core';
import type { ColumnInfo, TileInfo, Value } from '../../api/client';
import type { Tokens } from '../../look/tokens';
import { allOthers, formatOf, isWords, label, shortNumber } from '../../model/labels';
import { periodsBetween } from '../../model/periods';
import { placesIn } from '../../model/window';
import { colourOf, fixedOf } from './colours';
import {
  after,
  type Bars,
  base,
  type Drawing,
  type DrawingInput,
  html,
  type Mark,
  namedBelow,
  type Overview,
  opacityOf,
  type Parts,
  partsOf,
  strokeOf,
  tip,
  tipsOf,
} from './drawing';
import { patternOf } from './patterns';
import { addsUp, scaleOf, stackedEnds } from './scale';

/** How figures along an axis are drawn. */
export interface Along {
  mark: 'bar' | 'line';
  /** True for the area below a line. */
  filled?: boolean;
  /** True if the parts of a split lie on one another where they add up. */
  stacks?: boolean;
}

/** Figures of members along an axis: bars, lines, areas. */
export function cartesian(input: DrawingInput, along: Along): Drawing {
  const { tile, table, tokens: t, selection, partial } = input;
  const parts = partsOf(table);
  const [by, split] = parts.groups;
  const first = parts.figures[0];
  if (!by || !first) return { option: base(t), marks: [] };
  const isBar = along.mark === 'bar';
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
  const whole = keys;
  const part =
    isWords(by) || input.isSmall
      ? undefined
      : shownOf(
          input,
          whole.map((k) => members.get(k)?.member ?? null),
        );
  if (part) keys = whole.slice(part[0], part[1] + 1);
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
  const every = split
    ? splits.map((s) => ({
        part: s as Value | undefined,
        real: undefined as (number | null)[] | undefined,
        name: label(s, split),
        colour: colourOf(split, s, t),
        column: first.column,
        values: spread(parts, keyOf, place, keys.length, first.values, s),
      }))
    : parts.figures.map((f, i) => ({
        part: undefined as Value | undefined,
        real: undefined as (number | null)[] | undefined,
        name: f.column.title,
        colour: t.series[i] ?? t.rest,
        column: f.column,
        values: spread(parts, keyOf, place, keys.length, f.values),
      }));
  const tips = tipsOf(input);
  const rowsBySeries = new Map<string, (number | null)[]>();
  /** The line of the result at each place of a series, or of all where they are measures. */
  const rowsOf = (part: Value | undefined) => {
    const key = JSON.stringify(part ?? null);
    const known =
      rowsBySeries.get(key) ??
      spread(
        parts,
        keyOf,
        place,
        keys.length,
        Array.from({ length: parts.rows }, (_, row) => row),
        part,
      );
    rowsBySeries.set(key, known);
    return known;
  };
  const keyed = split !== undefined || every.length > 1;
  const { hidden } = input;
  const options = tile.options ?? {};
  const { parts: parted, direction, line: course, points } = options;
  const placed = every.map((s, at) => ({
    ...s,
    at,
    isBar: isBar && options[`marks.${s.column.name}`] !== 'line',
    side: options[`axes.${s.column.name}`] === 'right' ? ('right' as const) : ('left' as const),
  }));
  // The unit stands once, at the end of its axis, and nowhere where the measures of one have different ones: each name has its own then.
  const unitsAt = (side: string) => [
    ...new Set(placed.filter((s) => s.side === side).map((s) => formatOf(s.column).unit)),
  ];
  for (const s of placed) {
    const unit = unitsAt(s.side).length > 1 ? formatOf(s.column).unit : undefined;
    s.name = [s.name, unit].filter(Boolean).join(', ') + (s.side === 'right' ? ' (right axis)' : '');
  }
  const series = placed.filter((s) => !keyed || !hidden?.has(s.name));
  const isMixed = placed.some((s) => s.side === 'right' || s.isBar !== isBar);
  const isSum = split !== undefined && addsUp(tile) && along.stacks === true;
  const isShares = keyed && parted === 'shares';
  const stacked = keyed && (parted === undefined ? isSum : parted === 'stacked' || isShares);
  const isOver = keyed && parted === 'laid_over';
  const lying = isBar && !isMixed && (direction === undefined ? !isTime && isWords(by) : direction === 'lying');
  if (isShares) toShares(series);
  const unitOfAxis = isShares ? '%' : unitsAt('left').length === 1 ? unitsAt('left')[0] : '';
  const unit = input.isSmall ? '' : unitOfAxis;
  const suffix = input.isSmall && unitOfAxis && unitOfAxis.length <= 3 ? ` ${unitOfAxis}` : '';
  // A period that is not whole is no fall: the line to it is dotted. Stacked areas lie one on the other and stay as they are.
  const isDotted = (s: { isBar: boolean }) => !s.isBar && !(stacked && !isBar);
  const broken = isBar && !input.scale && !stacked ? brokenRest(series, keys.indexOf(restKey)) : undefined;
  const room = (lying ? input.height : input.width) / Math.max(1, names.length);

  // Under the axis the day that a week begins at is enough: tips and lists say what it is.
  const ticks = by.at === 'week' ? names.map((n) => n.replace(/^week of /, '')) : names;
  const category = membersAxis(input, ticks, lying);
  const steps = lying ? 3 : Math.max(2, Math.floor(input.height / (60 * t.scale)));
  const left = series.filter((s) => s.side === 'left');
  const format = isShares ? { decimals: 0, factor: 100, unit: '' } : { ...formatOf(first.column), unit: '' };
  const lies = (s: (typeof series)[number]) => stacked && s.isBar === isBar;
  const ends = (of: typeof series) => [
    ...stackedEnds(of.filter(lies)),
    ...of.filter((s) => !lies(s)).flatMap((s) => s.values),
  ];
  const value = {
    type: 'value',
    ...(input.scale
      ? scaleOf(input.scale, steps)
      : broken
        ? { min: 0, max: broken.end * (lying ? 1.18 : 1.1) }
        : isShares
          ? { min: 0, max: 1, interval: 0.25 }
          : scaleOf([...ends(left), ...referenced(tile), ...(input.reach ?? [])], steps)),
    splitNumber: steps,
    axisLabel: { ...figureLabels(format, t, suffix), ...(broken ? { showMaxLabel: false } : {}) },
    splitLine: { lineStyle: { color: t.hairline } },
    ...unitAt(unit, t, lying ? 'end' : 'left', input.width),
  };
  const levels = levelsOf(tile, t, lying, value, input);
  const around = roomOfUnit(unit, t, input.width);
  const ofRest = broken && shortNumber(broken.figure, { ...formatOf(first.column), unit: '' });
  // What is written at the end of its bar has some of the plot: a part of what the names leave of the width.
  if (ofRest) around.right = Math.max(around.right, ofRest.length * t.size * 0.6 + 12 - input.width * 0.07);
  const option: EChartsCoreOption = {
    ...base(t, false),
    grid: {
      left: 4,
      right: roomBeyond(ticks, input.width, t),
      top: 8 + ((unit && !lying) || unitsAt('right')[0] ? t.size + 4 : 0) + (lying ? roomOf(levels, t) : 0),
      bottom: 6,
      ...(lying ? around : {}),
      containLabel: true,
      outerBoundsMode: 'same',
      outerBoundsContain: 'axisLabel',
    },
    xAxis: lying ? value : category,
    yAxis: lying
      ? category
      : isMixed && placed.some((s) => s.side === 'right')
        ? [value, rightAxis(series, t, steps, ends, input.width - 10 * t.size - (unit?.length ?? 0) * t.size * 0.6)]
        : value,
    series: series.map((s, place) => ({
      name: s.name,
      type: s.isBar ? 'bar' : 'line',
      ...(s.side === 'right' ? { yAxisIndex: 1 } : {}),
      // On a layer of their own: where bars move, the axes need not be painted anew.
      zlevel: s.isBar ? 1 : isBar ? 2 : 0,
      color: s.colour,
      // By its place among all, so that it stays when others are hidden.
      ...(t.patterns && keyed ? { itemStyle: { decal: patternOf(t, s.at)?.decal } } : {}),
      stack: (stacked && s.isBar === isBar) || broken ? (s.side === 'left' ? 'all' : s.side) : undefined,
      // As thick as reads well where there is room for more, as in a tile that is enlarged.
      barMaxWidth: Math.max(28, Math.min(44, room * 0.4)),
      barCategoryGap: '28%',
      ...(isOver && s.isBar ? { barGap: '-100%' } : {}),
      ...(s.isBar
        ? {}
        : { smooth: course === 'smooth' ? 0.35 : false, step: course === 'steps' ? 'middle' : undefined }),
      symbol: s.isBar ? undefined : points === 'none' ? 'none' : 'circle',
      symbolSize: 5,
      showSymbol: !s.isBar,
      showAllSymbol: true,
      lineStyle: s.isBar ? undefined : strokeOf(t, s.at),
      areaStyle: along.filled ? { opacity: stacked ? 0.45 : 0.18 } : undefined,
      ...(place === 0 ? { markLine: markLines(tile, t, lying, levels), markArea: markBands(tile, t, lying) } : {}),
      emphasis: { focus: 'none' },
      selectedMode: false,
      data: s.values.map((v, i) => {
        const m = members.get(keys[i] ?? '');
        const cut = isCut(i, s.part);
        const opacity = tile.pick === 'none' ? 1 : opacityOf(selection, [m?.member ?? null], m?.isRest ?? false);
        const symbols = s.isBar
          ? {}
          : {
              symbolSize: cut ? 7 : s.values.filter((x) => x !== null).length > 60 ? 0 : s.values.length > 24 ? 2 : 4,
            };
        return {
          value: broken && i === broken.at ? broken.body : isDotted(s) && cut ? null : v,
          ...symbols,
          itemStyle: s.isBar
            ? {
                color: m?.isRest ? t.rest : ((split ? undefined : fixedOf(by, m?.member, t)) ?? s.colour),
                opacity: (cut ? 0.55 : isOver ? 0.5 : 1) * opacity,
                borderColor: cut || isOver ? s.colour : undefined,
                borderType: cut ? 'dashed' : 'solid',
                borderWidth: isOver ? 1.5 : cut ? 1 : 0,
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
  for (const s of series.filter(isDotted)) {
    const cuts = s.values.map((v, i) => v !== null && isCut(i, s.part));
    if (!cuts.includes(true)) continue;
    (option.series as object[]).push({
      name: s.name,
      type: 'line',
      zlevel: isBar ? 2 : 0,
      ...(s.side === 'right' ? { yAxisIndex: 1 } : {}),
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
    const opacity = tile.pick === 'none' ? 1 : opacityOf(selection, [null], true);
    const piece = (length: number, itemStyle: object, labelled: boolean) => ({
      type: 'bar',
      zlevel: 1,
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
        fontSize: t.size,
        formatter: ofRest,
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
          .flatMap((p) => series[p.seriesIndex] ?? [])
          .map((s, at, told) => {
            const name = `${s.name}${split && isCut(i, s.part) && !isCut(i) ? ' (part of it)' : ''}`;
            const figure = (s.real ?? s.values)[i];
            const row = rowsOf(s.part)[i] ?? null;
            // Of several measures of one line of the result, what else is told of it stands once, at the end.
            const isLast = split !== undefined || at === told.length - 1;
            if (row === null || (!isLast && !tips.isSentence)) return tip(s.colour, name, figure, s.column);
            return isLast ? tips.of(row, s.colour, name, figure, s.column) : '';
          })
          .join('')
      );
    },
  };
  const wordsOf = (i: number): string => {
    const shown = series
      .map((s) => {
        const figure = label((s.real ?? s.values)[i], s.column);
        const part = isCut(i, s.part) && !isCut(i) ? ', part of the period' : '';
        return series.length > 1 ? `${s.name} ${figure}${part}` : figure;
      })
      .join(', ');
    const more = tips.isMore
      ? [...new Set(series.map((s) => rowsOf(s.part)[i] ?? null))]
          .map((row) => (row === null ? '' : tips.words(row)))
          .filter(Boolean)
          .join('; ')
      : '';
    return `${names[i]}: ${shown}${isCut(i) ? ', part of the period' : ''}${after(more)}`;
  };
  const marks = keys.flatMap((k, i): Mark[] => {
    const m = members.get(k);
    if (!m) return [];
    // Written when it is read: nobody reads it in the frames of a drag.
    return [
      {
        member: [m.member],
        isRest: m.isRest,
        series: 0,
        data: i,
        get text() {
          return wordsOf(i);
        },
      },
    ];
  });
  const overview = part && !lying ? overviewOf(input, parts, whole, keyOf, part, (k) => members.get(k)) : undefined;
  const axis = lying ? undefined : { members: keys.map((k) => members.get(k)?.member ?? null), at: by.at };
  return {
    option,
    marks,
    along: axis,
    overview,
    lying,
    reach: broken || isShares ? undefined : [value.min, value.max],
    legend: keyed
      ? placed.map((s) => ({
          name: s.name,
          colour: s.colour,
          mark: s.isBar || along.filled ? undefined : 'line',
          pattern: patternOf(t, s.at),
        }))
      : undefined,
    note: isShares && series.length < placed.length ? 'Shares of those shown.' : undefined,
    bars: isBar && !broken && !isMixed ? barsOf(option, series, stacked, lying) : undefined,
  };
}

/** The places of the first and last member shown; all of them where nothing else is said. */
function shownOf({ tile, window }: DrawingInput, members: Value[]): [number, number] {
  const opening = Number(tile.options?.window ?? 0);
  if (window) return placesIn(window, members);
  return [opening > 0 ? Math.max(0, members.length - opening) : 0, members.length - 1];
}

function overviewOf(
  { tile }: DrawingInput,
  parts: Parts,
  keys: string[],
  keyOf: (row: number) => string,
  shown: [number, number],
  of: (key: string) => { member: Value; isRest: boolean } | undefined,
): Overview {
  const heights = new Map<string, number>();
  const [figure] = parts.figures;
  // Parts that do not add up are as high as the highest of them.
  const isSum = addsUp(tile);
  for (let row = 0; row < parts.rows; row++) {
    const [key, value] = [keyOf(row), Math.max(0, figure?.values[row] ?? 0)];
    const before = heights.get(key) ?? 0;
    heights.set(key, isSum ? before + value : Math.max(before, value));
  }
  const [by] = parts.groups;
  return {
    members: keys.map((k) => of(k)?.member ?? null),
    names: keys.map((k) => (of(k)?.isRest ? allOthers : label(of(k)?.member ?? null, by as ColumnInfo))),
    heights: keys.map((k) => heights.get(k) ?? 0),
    shown,
  };
}

/** How far from the end of an axis that lies its unit stands: beyond half of the last figure. */
const besideLast = (t: Tokens) => 6 + Math.round(1.5 * t.size);

/** How wide that is. */
const widthOfUnit = (unit: string, t: Tokens) => besideLast(t) + unit.length * t.size * 0.6;

/** True where the unit would take too much of the width, and stands on a line of its own below the axis. */
const isUnitBelow = (unit: string, t: Tokens, width: number) => widthOfUnit(unit, t) > width * 0.15;

/** The room that an axis that lies needs for its unit, if it has one. */
const roomOfUnit = (unit: string | undefined, t: Tokens, width: number) => {
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
function rightAxis<S extends { side: string; column: ColumnInfo }>(
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

/** Bars as lengths, the parts of a split one on the other where they add up. */
export function barsOf(
  option: EChartsCoreOption,
  series: { values: (number | null)[] }[],
  isStacked: boolean,
  lying: boolean,
): Bars {
  const above: number[] = [];
  const below: number[] = [];
  const ends = series.map(({ values }) =>
    values.map((v, i): [number, number] | null => {
      if (v === null) return null;
      if (!isStacked) return [0, v];
      const side = v < 0 ? below : above;
      const from = side[i] ?? 0;
      side[i] = from + v;
      return [from, from + v];
    }),
  );
  const still = JSON.stringify(option, (key, part) => (key === 'value' ? undefined : part));
  return { still, ends, lying };
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

/** The figures of each member as shares of their sum; what they are stays beside them. */
function toShares(series: { values: (number | null)[]; real?: (number | null)[] }[]) {
  const sums = series[0]?.values.map((_, i) => series.reduce((sum, s) => sum + Math.max(0, s.values[i] ?? 0), 0)) ?? [];
  for (const s of series) {
    s.real = s.values;
    s.values = s.values.map((v, i) => (v === null || !sums[i] ? null : Math.max(0, v) / (sums[i] ?? 1)));
  }
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

/** The values at which lines and bands are, so that they have room. */
export const referenced = (tile: TileInfo): number[] =>
  (tile.references ?? []).flatMap((r) => (r.to === null ? [r.at] : [r.at, r.to]));

/**
 * On which level the title of each line stands, so that none covers another; undefined for a line without one.
 * @param axis Between which values the axis of figures lies.
 */
export function levelsOf(
  tile: TileInfo,
  t: Tokens,
  lying: boolean,
  axis: { min: number; max: number },
  { width, height }: DrawingInput,
): (number | undefined)[] {
  const lines = (tile.references ?? []).filter((r) => r.to === null);
  // About how long the axis is: the names of members take some of the width, those of dates some of the height.
  const long = lying ? width * 0.7 : height - 2.5 * t.size;
  const at = (value: number) => ((value - axis.min) / (axis.max - axis.min || 1)) * long;
  const wide = (title: string) => (lying ? title.length * t.size * 0.58 + 8 : t.size + 4);
  const placed: { level: number; from: number; to: number }[] = [];
  const levels: (number | undefined)[] = lines.map(() => undefined);
  const order = [...lines.keys()].sort((a, b) => (lines[a]?.at ?? 0) - (lines[b]?.at ?? 0));
  for (const i of order) {
    const line = lines[i];
    if (!line || line.title === null) continue;
    const [from, to] = [at(line.at) - wide(line.title) / 2, at(line.at) + wide(line.title) / 2];
    let level = 0;
    while (placed.some((p) => p.level === level && p.to > from && p.from < to)) level++;
    placed.push({ level, from, to });
    levels[i] = level;
  }
  return levels;
}

/** How much room titles of lines take above bars that lie, in pixels. */
export const roomOf = (levels: (number | undefined)[], t: Tokens): number =>
  (Math.max(-1, ...levels.filter((l) => l !== undefined)) + 1) * (t.size + 4);

/**
 * Lines at values of the axis.
 * @param levels See levelsOf: above bars that lie one over another, else at the right, the left and the middle.
 */
export function markLines(tile: TileInfo, t: Tokens, lying: boolean, levels: (number | undefined)[]) {
  const lines = (tile.references ?? []).filter((r) => r.to === null);
  return lines.length === 0
    ? undefined
    : {
        silent: true,
        symbol: 'none',
        animation: false,
        lineStyle: { color: t.ink, type: 'dashed', width: 1.25 * t.scale },
        data: lines.map((r, i) => ({
          [lying ? 'xAxis' : 'yAxis']: r.at,
          label: {
            show: r.title !== null,
            formatter: r.title ?? '',
            ...(lying
              ? { position: 'start', rotate: 0, distance: 3 + (levels[i] ?? 0) * (t.size + 4) }
              : { position: ['insideEndTop', 'insideStartTop', 'insideMiddleTop'][(levels[i] ?? 0) % 3] }),
            color: t.ink,
            fontSize: t.size,
            backgroundColor: t.surface,
            padding: [0, 3],
          },
        })),
      };
}

/** Bands between two values of the axis. */
export function markBands(tile: TileInfo, t: Tokens, lying: boolean) {
  const bands = (tile.references ?? []).filter((r) => r.to !== null);
  const axis = lying ? 'xAxis' : 'yAxis';
  return bands.length === 0
    ? undefined
    : {
        silent: true,
        animation: false,
        itemStyle: { color: t.quiet, opacity: 0.14 },
        data: bands.map((r) => [
          {
            [axis]: r.at,
            label: {
              show: r.title !== null,
              formatter: r.title ?? '',
              position: 'insideTopRight',
              backgroundColor: t.surface,
              padding: [0, 3],
              color: t.ink,
              fontSize: t.size,
            },
          },
          { [axis]: r.to },
        ]),
      };
}

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
