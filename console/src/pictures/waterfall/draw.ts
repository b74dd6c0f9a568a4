import { label } from '../../model/labels';
import { onColour } from '../parts/colours';
import {
  after,
  base,
  type Drawing,
  type DrawingInput,
  html,
  opacityOf,
  type Parts,
  partsOf,
  type Tips,
  tip,
  tipsOf,
} from '../parts/drawing';
import { type Plot, plotOf } from './plot';
import { changeOf, lowerOf, type Step, type Steps, stepsOf, upperOf, writtenOf } from './steps';

/** How a bar looks. */
interface Looks {
  colour: (s: Step) => string;
  opacity: (s: Step) => number;
}

/** Steps that add up from a start to an end. */
export function draw(input: DrawingInput): Drawing {
  const { tokens: t } = input;
  const parts = partsOf(input.table);
  const of = stepsOf(input, parts);
  if (!of) return { option: base(t), marks: [] };
  const plot = plotOf(input, parts, of);
  const looks = looksOf(input, parts);
  const tips = tipsOf(input);
  const { lying, grid, xAxis, yAxis } = plot;
  const { steps, ends, first, second, isCut } = of;
  const start = base(t, false);
  const last = ends[ends.length - 1] ?? 0;
  return {
    option: {
      ...start,
      grid,
      xAxis,
      yAxis,
      series: barsOf(input, of, plot, looks),
      tooltip: {
        ...(start.tooltip as object),
        formatter: ({ dataIndex }: { dataIndex: number }) => tipAt(steps[dataIndex], of, tips, looks),
      },
    },
    lying,
    note: isCut ? 'The sum is of those shown.' : undefined,
    summary: `from ${label(second ? (ends[0] ?? 0) : 0, first.column)} to ${label(last, (second ?? first).column)}`,
    // What stands for no member is no mark, and has none of its place.
    marks: steps.flatMap((s, i) => {
      if (s.row === undefined) return [];
      const by = `${changeOf(s) < 0 ? '\u2212' : '+'}${label(Math.abs(changeOf(s)), first.column)}`;
      return [
        {
          member: [parts.group(0)[s.row] ?? null],
          isRest: parts.isRest(s.row),
          text: `${s.name}: ${by}, to ${label(s.to, first.column)}${after(tips.words(s.row))}`,
          series: changeOf(s) < 0 && upperOf(s) <= 0 ? 2 : 1,
          data: i,
        },
      ];
    }),
  };
}

const looksOf = ({ tile, tokens: t, selection }: DrawingInput, parts: Parts): Looks => ({
  colour: (s) => (s.row === undefined ? t.rest : changeOf(s) < 0 ? t.series[1] : t.series[0]) ?? t.rest,
  opacity: (s) =>
    tile.pick === 'none' || s.row === undefined
      ? 1
      : opacityOf(selection, [parts.group(0)[s.row] ?? null], parts.isRest(s.row)),
});

/** What is drawn: nothing up to where a bar begins, and the parts of it above and below nothing. */
function barsOf(input: DrawingInput, of: Steps, plot: Plot, looks: Looks): object[] {
  const { tokens: t } = input;
  const { steps } = of;
  const { lying } = plot;
  const bar = (value: (s: Step) => number | null, itemStyle: (s: Step) => object, more: object) => ({
    type: 'bar',
    stack: 'all',
    selectedMode: false,
    barCategoryGap: '28%',
    barMaxWidth: Math.max(28, Math.min(44, plot.perStep * 0.4)),
    // The start and the end stand for no member: nothing is picked there.
    data: steps.map((s) => ({
      value: value(s),
      itemStyle: itemStyle(s),
      label: spotOf(s, plot, looks, t),
      marks: s.row === undefined ? [] : [s.row],
    })),
    ...more,
  });
  const style = (s: Step) => ({ color: looks.colour(s), opacity: looks.opacity(s) });
  /** The figure beside the part of a bar that ends it. */
  const figureAt = (position: string, isAt: (s: Step) => boolean) => ({
    label: {
      show: plot.isWritten,
      position,
      color: t.ink,
      fontSize: t.size,
      formatter: (p: { dataIndex: number }) => {
        const s = steps[p.dataIndex];
        return s && isAt(s) ? writtenOf(s, of) : '';
      },
    },
  });
  const at = (place: number, value: number) => (lying ? [value, place] : [place, value]);
  const between = {
    silent: true,
    z: 1,
    symbol: 'none',
    label: { show: false },
    lineStyle: { color: t.quiet, width: 1, type: 'solid', opacity: 0.6 },
    data: steps.slice(0, -1).map((s, i) => [{ coord: at(i, s.to) }, { coord: at(i + 1, s.to) }]),
  };
  return [
    // One that crosses nothing has a part at either side, and none before it.
    bar(
      (s) => Math.max(0, lowerOf(s)) + Math.min(0, upperOf(s)),
      () => ({ color: 'transparent' }),
      { silent: true, markLine: between },
    ),
    bar(
      (s) => (upperOf(s) > 0 ? upperOf(s) - Math.max(0, lowerOf(s)) : null),
      style,
      figureAt(lying ? 'right' : 'top', (s) => upperOf(s) > 0),
    ),
    bar(
      (s) => (lowerOf(s) < 0 ? lowerOf(s) - Math.min(0, upperOf(s)) : null),
      style,
      figureAt(lying ? 'left' : 'bottom', (s) => upperOf(s) <= 0 && lowerOf(s) < 0),
    ),
  ];
}

/** Where the figure of a bar stands that got no room of its own: where there is some, else nowhere. */
function spotOf(s: Step, plot: Plot, looks: Looks, t: DrawingInput['tokens']): object {
  if (!plot.isWritten || plot.makesRoom) return {};
  const { drawn, lying, length } = plot;
  const lengthOf = (value: number) => (value / (drawn.max - drawn.min)) * length;
  const need = plot.need(s);
  const [lower, upper] = [lowerOf(s), upperOf(s)];
  if (!lying) return upper <= 0 && lengthOf(lower - drawn.min) < need ? { show: false } : {};
  // Beside the plot there is room too: the unit stands below all bars.
  if (lengthOf(drawn.max - upper) + plot.grid.right >= need) return { position: 'right' };
  // The figure is that of the part which ends the bar: of one that crosses nothing the other part lies before it.
  const begin = upper > 0 ? Math.max(0, lower) : lower;
  if (begin === lower && lengthOf(begin - drawn.min) >= need) return { position: 'left' };
  if (lengthOf(upper - begin) < need) return { show: false };
  return { position: 'inside', color: looks.opacity(s) < 1 ? t.ink : onColour(looks.colour(s), t) };
}

function tipAt(s: Step | undefined, { first, second }: Steps, tips: Tips, { colour }: Looks): string {
  if (!s) return '';
  if (s.row === undefined) return tip(colour(s), s.name, s.to, (second ?? first).column);
  const { row } = s;
  if (tips.isSentence) return tips.of(row, colour(s), '', null, first.column);
  const step = tips.of(row, colour(s), second ? 'Difference' : s.name, changeOf(s), first.column);
  if (!second) return step;
  const own = [first, second].map((f) => tip('transparent', f.column.title, f.values[row], f.column)).join('');
  return `${html(s.name)}${own}${step}`;
}
