import { base, type Drawing, type DrawingInput, partsOf, tipsOf } from '../drawing';
import { patternOf } from '../patterns';
import { barsOf, drawnSeries, type Scene } from './marks';
import { membersOf } from './members';
import { plotOf } from './plot';
import { brokenRest, type Manner, type Placed, seriesOf } from './series';
import { Told } from './told';

/** Figures of members along an axis: bars, lines, areas. */
export function cartesian(input: DrawingInput, manner: Manner): Drawing {
  const { tokens: t } = input;
  const parts = partsOf(input.table);
  const [by] = parts.groups;
  const [figure] = parts.figures;
  if (!by || !figure) return { option: base(t), marks: [] };
  const along = membersOf(input, parts, by);
  const placed = seriesOf(input, parts, along, figure.column, manner);
  const { isBar, isMixed, isShares, isStacked, lying } = placed;
  const canBreak = isBar && !isStacked && !input.scale;
  const broken = canBreak
    ? brokenRest(
        placed.shown,
        along.members.findIndex((m) => m.isRest),
      )
    : undefined;
  const plot = plotOf(input, along, placed, broken);
  const scene: Scene = { input, along, placed, plot, broken };
  const told = new Told(parts, along, placed, tipsOf(input));
  const start = base(t, false);
  const option = {
    ...start,
    grid: plot.grid,
    xAxis: plot.xAxis,
    yAxis: plot.yAxis,
    series: drawnSeries(scene),
    tooltip: { ...(start.tooltip as object), ...told.tooltip(t) },
  };
  return {
    option,
    marks: told.marks(),
    along: lying ? undefined : { members: along.members.map((m) => m.member), at: by.at },
    overview: lying ? undefined : along.overview,
    lying,
    reach: broken || isShares ? undefined : [plot.ends.min, plot.ends.max],
    legend: legendOf(placed, input),
    note: isShares && placed.shown.length < placed.all.length ? 'Shares of those shown.' : undefined,
    bars: isBar && !broken && !isMixed ? barsOf(option, placed.shown, isStacked, lying) : undefined,
  };
}

/** The series by name, hidden ones too; undefined where there is only one. */
const legendOf = ({ all, isKeyed, manner }: Placed, { tokens: t }: DrawingInput): Drawing['legend'] =>
  isKeyed
    ? all.map((s) => ({
        name: s.name,
        colour: s.colour,
        mark: s.isBar || manner.filled ? undefined : 'line',
        pattern: patternOf(t, s.at),
      }))
    : undefined;
