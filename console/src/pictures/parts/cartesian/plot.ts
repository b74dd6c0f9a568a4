import { formatOf, shortNumber } from '../../../model/labels';
import type { DrawingInput } from '../drawing';
import { scaleOf, stackedEnds } from '../scale';
import { figureLabels, membersAxis, rightAxis, roomBeyond, roomOfUnit, unitAt } from './axes';
import type { Members } from './members';
import { levelsOf, referenced, roomOf } from './references';
import { type Broken, type Placed, type Series, unitsAt } from './series';

/** Where a picture is drawn: its axes, and the room around them. */
export interface Plot {
  grid: object;
  xAxis: object;
  yAxis: object | object[];
  /** Where the axis of figures begins and ends. */
  ends: { min: number; max: number };
  /** See levelsOf. */
  levels: (number | undefined)[];
  /** How much of the axis each member has, in pixels. */
  perMember: number;
}

/** The figure of the rest as it is written at the end of its broken bar. */
export const wordOfRest = ({ figure, column }: Broken): string =>
  shortNumber(figure, { ...formatOf(column), unit: '' });

/** True for what stands on what is below it. */
export const isStackedOn = (s: Series, { isStacked, isBar }: Placed): boolean => isStacked && s.isBar === isBar;

export function plotOf(input: DrawingInput, along: Members, placed: Placed, broken: Broken | undefined): Plot {
  const { tile, tokens: t, width, height } = input;
  const { lying } = placed;
  // Under the axis the day that a week begins at is enough: tips and lists say what it is.
  const ticks = along.by.at === 'week' ? along.names.map((n) => n.replace(/^week of /, '')) : along.names;
  const members = membersAxis(input, ticks, lying);
  const { unit, figures, steps } = figuresOf(input, placed, broken);
  const levels = levelsOf(tile, t, lying, figures, input);
  const around = roomOfUnit(unit, t, width);
  // What is written at the end of its bar has some of the plot: a part of what the names leave of the width.
  if (broken) around.right = Math.max(around.right, wordOfRest(broken).length * t.size * 0.6 + 12 - width * 0.07);
  const hasUnitAbove = (unit && !lying) || unitsAt(placed.all, 'right')[0];
  return {
    grid: {
      left: 4,
      right: roomBeyond(ticks, width, t),
      top: 8 + (hasUnitAbove ? t.size + 4 : 0) + (lying ? roomOf(levels, t) : 0),
      bottom: 6,
      ...(lying ? around : {}),
      containLabel: true,
      outerBoundsMode: 'same',
      outerBoundsContain: 'axisLabel',
    },
    xAxis: lying ? figures : members,
    yAxis: lying ? members : placed.all.some((s) => s.side === 'right') ? bothAxes() : figures,
    ends: figures,
    levels,
    perMember: (lying ? height : width) / Math.max(1, along.names.length),
  };

  function bothAxes() {
    const room = width - 10 * t.size - (unit?.length ?? 0) * t.size * 0.6;
    return [figures, rightAxis(placed.shown, t, steps, (of) => endsOfAll(of, placed), room)];
  }
}

/** The axis of figures: of those at the left, where there are two. */
function figuresOf(input: DrawingInput, placed: Placed, broken: Broken | undefined) {
  const { tile, tokens: t } = input;
  const { isShares, lying } = placed;
  // The unit stands once, at the end of its axis, and nowhere where the measures of one have different ones: each name has its own then.
  const units = unitsAt(placed.all, 'left');
  const ofAxis = isShares ? '%' : units.length === 1 ? units[0] : '';
  const unit = input.isSmall ? '' : ofAxis;
  const suffix = input.isSmall && ofAxis && ofAxis.length <= 3 ? ` ${ofAxis}` : '';
  const steps = lying ? 3 : Math.max(2, Math.floor(input.height / (60 * t.scale)));
  const format = isShares ? { decimals: 0, factor: 100, unit: '' } : { ...formatOf(placed.figure), unit: '' };
  return {
    unit,
    steps,
    figures: {
      type: 'value',
      ...endsOfAxis(),
      splitNumber: steps,
      axisLabel: { ...figureLabels(format, t, suffix), ...(broken ? { showMaxLabel: false } : {}) },
      splitLine: { lineStyle: { color: t.hairline } },
      ...unitAt(unit, t, lying ? 'end' : 'left', input.width),
    },
  };

  function endsOfAxis() {
    if (input.scale) return scaleOf(input.scale, steps);
    if (broken) return { min: 0, max: broken.end * (lying ? 1.18 : 1.1) };
    if (isShares) return { min: 0, max: 1, interval: 0.25 };
    const left = placed.shown.filter((s) => s.side === 'left');
    return scaleOf([...endsOfAll(left, placed), ...referenced(tile), ...(input.reach ?? [])], steps);
  }
}

/** Between which figures series lie, those that stand on one another together. */
const endsOfAll = (series: Series[], placed: Placed): (number | null)[] => [
  ...stackedEnds(series.filter((s) => isStackedOn(s, placed))),
  ...series.filter((s) => !isStackedOn(s, placed)).flatMap((s) => s.values),
];
