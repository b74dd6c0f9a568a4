import { formatOf, label } from '../../model/labels';
import { cartesian } from '../parts/cartesian';
import { base, type Draw, namedBelow, partsOf, roomForNote } from '../parts/drawing';
import { scaleOf } from '../parts/scale';

/** Curves of how thick values lie along a number, with the bandwidth that smooths them. */
export const draw: Draw = (input) => {
  const { table, tokens: t, width, tile } = input;
  const parts = partsOf(table);
  const [by, split] = parts.groups;
  const figure = parts.figures[0];
  if (!by || !figure || parts.rows === 0) return { option: base(t), marks: [] };
  const drawing = cartesian(
    { ...input, window: undefined, tile: { ...tile, options: { ...tile.options, points: 'none', line: 'smooth' } } },
    { mark: 'line', filled: true },
  );
  const members = drawing.along?.members ?? [];
  const unitless = { ...by, format: by.format && { ...by.format, unit: '' } };
  const ticks = ticksAlong(members.map(Number), Math.max(2, Math.floor(width / (7 * t.size))));
  const axis = drawing.option.xAxis as { axisLabel: object };
  const { unit } = formatOf(by);
  const note = `Estimated: Gaussian kernel over ${counted(input.table, split ? 1 : 0)} values; bandwidth ${bandwidths(input.table, split !== undefined)}; standard errors in the tips.`;
  // Where hardly a line of type would be left of the plot, what smooths the curves is told in larger tiles alone.
  const isNoted = input.height - roomForNote(note, input) - 4 * t.size > 2 * t.size;
  const below = isNoted ? roomForNote(note, input) : 0;
  const isLow = input.height - below - 6 * t.size < 4 * t.size;
  return {
    ...drawing,
    overview: undefined,
    option: {
      ...drawing.option,
      // Below the name of the axis stands what smooths the curves.
      grid: { ...(drawing.option.grid as object), top: 8 + t.size + 4, bottom: t.size + 6 + below },
      xAxis: {
        ...axis,
        boundaryGap: false,
        ...namedBelow([by.title, unit].filter(Boolean).join(', '), input),
        // At round numbers, though points stand between them.
        axisLabel: {
          ...axis.axisLabel,
          interval: (i: number) => ticks.has(i),
          formatter: (_: string, i: number) => label(ticks.get(i) ?? null, unitless),
        },
      },
      // What is estimated looks it; where strokes tell series apart, they do.
      series: (drawing.option.series as { lineStyle?: object }[]).map((s) =>
        t.patterns ? s : { ...s, lineStyle: { ...s.lineStyle, type: [6, 3] } },
      ),
      yAxis: {
        ...(drawing.option.yAxis as object),
        // In a plot as low as a line or two of type figures beside it would tell of nothing.
        ...(isLow ? { axisLabel: { show: false } } : {}),
        name: figure.column.title,
        nameLocation: 'end',
        nameGap: 8,
        nameTextStyle: { color: t.quiet, fontSize: t.size, align: 'left' },
      },
    },
    ...(isNoted ? { note } : {}),
  };
};

/** The round numbers along points in order, each at the place of the point that is nearest. */
export function ticksAlong(points: number[], about: number): Map<number, number> {
  const [first, last] = [points[0] ?? 0, points[points.length - 1] ?? 0];
  const { interval } = scaleOf([0, last - first], about);
  const ticks = new Map<number, number>();
  for (let at = Math.ceil(first / interval) * interval; at <= last; at += interval) {
    const place = Math.round(((at - first) / (last - first || 1)) * (points.length - 1));
    ticks.set(place, Number(at.toPrecision(12)));
  }
  return ticks;
}

/** How many values all curves together are of. */
function counted({ columns, values }: Parameters<Draw>[0]['table'], split: number): string {
  const at = columns.findIndex((c) => c.name === 'values' && c.role === 'tip');
  const of = new Map((values[at] ?? []).map((n, row) => [split ? values[split]?.[row] : null, Number(n)]));
  return [...of.values()].reduce((sum, n) => sum + n, 0).toLocaleString('en-US');
}

/** The bandwidth of each curve, or from the least to the greatest where there are several. */
function bandwidths({ columns, values }: Parameters<Draw>[0]['table'], isSplit: boolean): string {
  const at = columns.findIndex((c) => c.name === 'bandwidth' && c.role === 'tip');
  const column = columns[at];
  const known = [...new Set((values[at] ?? []) as number[])].sort((a, b) => a - b);
  if (!column || known.length === 0) return '–';
  const [least, greatest] = [label(known[0] ?? null, column), label(known[known.length - 1] ?? null, column)];
  return !isSplit || least === greatest ? least : `${least} to ${greatest}`;
}
