import type { EChartsCoreOption } from 'echarts/core';
import { allOthers, formatOf, isWords, label, shortNumber } from '../../model/labels';
import { figuresAxis, membersAxis, roomAround } from '../parts/cartesian';
import { onColour } from '../parts/colours';
import { after, base, type Drawing, type DrawingInput, html, opacityOf, partsOf, tip, tipsOf } from '../parts/drawing';
import { coarsened, runningEnds, scaleOf } from '../parts/scale';

/** A bar between two figures. */
interface Step {
  name: string;
  from: number;
  to: number;
  /** The line of the result; none for the start and the end. */
  row?: number;
}

/** Steps that add up from a start to an end. */
export function draw(input: DrawingInput): Drawing {
  const { tile, table, tokens: t, selection } = input;
  const parts = partsOf(table);
  const [by] = parts.groups;
  const [first, second] = parts.figures;
  if (!by || !first) return { option: base(t), marks: [] };
  const tips = tipsOf(input);
  const ends = runningEnds(first.values, second?.values);
  const steps: Step[] = ends.slice(1).map((to, row) => ({
    name: parts.isRest(row) ? allOthers : label(parts.group(0)[row] ?? null, by),
    from: ends[row] ?? 0,
    to,
    row,
  }));
  if (second) steps.unshift({ name: first.column.title, from: 0, to: ends[0] ?? 0 });
  // Where only leading members are shown and no rest, the sum is one of those shown.
  const isCut = tile.isTop && !tile.hasRest;
  steps.push({
    name: second ? second.column.title : isCut ? 'Sum of those shown' : 'Sum',
    from: 0,
    to: ends[ends.length - 1] ?? 0,
  });
  const lying = tile.options?.direction ? tile.options.direction === 'lying' : isWords(by);
  const format = { ...formatOf(first.column), unit: '' };
  const { unit } = formatOf(first.column);
  const ticks = lying ? 3 : Math.max(2, Math.floor(input.height / (60 * t.scale)));
  const scale = scaleOf(input.scale ?? [...ends, 0], ticks);
  const [least, most] = [Math.min(...ends), Math.max(...ends)];
  const room = (lying ? input.height : input.width) / steps.length;
  const change = (s: Step) => s.to - s.from;
  const written = (s: Step) =>
    s.row === undefined
      ? shortNumber(s.to, format)
      : `${change(s) < 0 ? '\u2212' : '+'}${shortNumber(Math.abs(change(s)), format)}`;
  // A figure stands at the end of its bar where the bars leave it room.
  const isWritten = lying
    ? room > t.size + 2
    : room > Math.max(...steps.map((s) => written(s).length)) * t.size * 0.6 + 4;
  // What the longest figure takes of the axis, at about how long that is.
  const widthOf = (s: Step) => written(s).length * t.size * 0.6 + 8;
  const wide = Math.max(...steps.map(widthOf));
  const members = membersAxis(
    input,
    steps.map((s) => s.name),
    lying,
  );
  const around = roomAround(unit, input, lying, isWritten && !lying ? t.size : 0);
  const longest = Math.max(...steps.map((s) => s.name.length)) * t.size * 0.6;
  const plot = input.width - Math.min(longest, members.axisLabel.width ?? 0) - 8 - around.left - around.right;
  const long = lying ? Math.max(wide * 1.5, plot) : Math.max(t.size * 4, input.height - 4 * t.size);
  const figureRoom = lying ? wide : t.size + 4;
  // Drawn beside another it keeps the scale of both, however many steps and letters it has itself.
  const makesRoom = isWritten && input.scale === undefined;
  const share = ((scale.max - scale.min) * figureRoom) / (long - figureRoom);
  const beside = Math.ceil(share / scale.interval) * scale.interval;
  const colour = (s: Step) => (s.row === undefined ? t.rest : change(s) < 0 ? t.series[1] : t.series[0]) ?? t.rest;
  const opacity = (s: Step) =>
    tile.pick === 'none' || s.row === undefined
      ? 1
      : opacityOf(selection, [parts.group(0)[s.row] ?? null], parts.isRest(s.row));
  const at = (place: number, value: number) => (lying ? [value, place] : [place, value]);
  // Room for the figures at the ends of bars, at either side of nothing.
  const reach = {
    ...scale,
    ...(makesRoom && lying && scale.max - most < share ? { max: scale.max + beside } : {}),
    ...(makesRoom && least < 0 && least - scale.min < share ? { min: scale.min - beside } : {}),
  };
  const drawn = coarsened(reach, ticks);
  const axis = figuresAxis(drawn, ticks, first.column, input, lying);
  // Where not every name has room, that of the end is not left out.
  const category = { ...members, axisLabel: { ...members.axisLabel, showMaxLabel: true } };
  const bar = (value: (s: Step) => number | null, itemStyle: (s: Step) => object, more: object = {}) => ({
    type: 'bar',
    stack: 'all',
    selectedMode: false,
    barCategoryGap: '28%',
    barMaxWidth: Math.max(28, Math.min(44, room * 0.4)),
    // The start and the end stand for no member: nothing is picked there.
    data: steps.map((s) => ({
      value: value(s),
      itemStyle: itemStyle(s),
      label: spot(s),
      marks: s.row === undefined ? [] : [s.row],
    })),
    ...more,
  });
  const lower = (s: Step) => Math.min(s.from, s.to);
  const upper = (s: Step) => Math.max(s.from, s.to);
  const looks = (s: Step) => ({ color: colour(s), opacity: opacity(s) });
  /** Where the figure of a bar stands that got no room of its own: where there is some, else nowhere. */
  const spot = (s: Step): object => {
    if (!isWritten || makesRoom) return {};
    const lengthOf = (value: number) => (value / (drawn.max - drawn.min)) * (lying ? plot : long);
    if (!lying) return upper(s) <= 0 && lengthOf(lower(s) - drawn.min) < figureRoom ? { show: false } : {};
    const need = widthOf(s);
    // Beside the plot there is room too: the unit stands below all bars.
    if (lengthOf(drawn.max - upper(s)) + around.right >= need) return { position: 'right' };
    // The figure is that of the part which ends the bar: of one that crosses nothing the other part lies before it.
    const begin = upper(s) > 0 ? Math.max(0, lower(s)) : lower(s);
    if (begin === lower(s) && lengthOf(begin - drawn.min) >= need) return { position: 'left' };
    if (lengthOf(upper(s) - begin) < need) return { show: false };
    return { position: 'inside', color: opacity(s) < 1 ? t.ink : onColour(colour(s), t) };
  };
  /** The figure beside the part of a bar that ends it. */
  const figureAt = (position: string, isAt: (s: Step) => boolean) => ({
    label: {
      show: isWritten,
      position,
      color: t.ink,
      fontSize: t.size,
      formatter: (p: { dataIndex: number }) => {
        const s = steps[p.dataIndex];
        return s && isAt(s) ? written(s) : '';
      },
    },
  });
  const option: EChartsCoreOption = {
    ...base(t, false),
    grid: around,
    xAxis: lying ? axis : category,
    yAxis: lying ? category : axis,
    series: [
      // Up to where a bar begins nothing is seen; one that crosses nothing has a part at either side.
      bar(
        (s) => Math.max(0, lower(s)) + Math.min(0, upper(s)),
        () => ({ color: 'transparent' }),
        {
          silent: true,
          markLine: {
            silent: true,
            z: 1,
            symbol: 'none',
            label: { show: false },
            lineStyle: { color: t.quiet, width: 1, type: 'solid', opacity: 0.6 },
            data: steps.slice(0, -1).map((s, i) => [{ coord: at(i, s.to) }, { coord: at(i + 1, s.to) }]),
          },
        },
      ),
      bar(
        (s) => (upper(s) > 0 ? upper(s) - Math.max(0, lower(s)) : null),
        looks,
        figureAt(lying ? 'right' : 'top', (s) => upper(s) > 0),
      ),
      bar(
        (s) => (lower(s) < 0 ? lower(s) - Math.min(0, upper(s)) : null),
        looks,
        figureAt(lying ? 'left' : 'bottom', (s) => upper(s) <= 0 && lower(s) < 0),
      ),
    ],
  };
  option.tooltip = {
    ...(option.tooltip as object),
    formatter: (p: { dataIndex: number }) => {
      const s = steps[p.dataIndex];
      if (!s) return '';
      if (s.row === undefined) return tip(colour(s), s.name, s.to, (second ?? first).column);
      const { row } = s;
      if (tips.isSentence) return tips.of(row, colour(s), '', null, first.column);
      const figures = second ? [first, second] : [first];
      const own = figures.map((f) => tip('transparent', f.column.title, f.values[row], f.column)).join('');
      const step = tips.of(row, colour(s), second ? 'Difference' : s.name, change(s), first.column);
      return second ? `${html(s.name)}${own}${step}` : step;
    },
  };
  return {
    option,
    lying,
    note: isCut ? 'The sum is of those shown.' : undefined,
    summary: `from ${label(second ? (ends[0] ?? 0) : 0, first.column)} to ${label(ends[ends.length - 1] ?? 0, (second ?? first).column)}`,
    // What stands for no member is no mark, and has none of its place.
    marks: steps.flatMap((s, i) =>
      s.row === undefined
        ? []
        : [
            {
              member: [parts.group(0)[s.row] ?? null],
              isRest: parts.isRest(s.row),
              text: `${s.name}: ${change(s) < 0 ? '\u2212' : '+'}${label(Math.abs(change(s)), first.column)}, to ${label(s.to, first.column)}${after(tips.words(s.row))}`,
              series: change(s) < 0 && upper(s) <= 0 ? 2 : 1,
              data: i,
            },
          ],
    ),
  };
}
