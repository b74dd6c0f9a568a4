import { formatOf, isWords } from '../../model/labels';
import { figuresAxis, membersAxis, roomAround } from '../parts/cartesian/axes';
import type { DrawingInput, Parts } from '../parts/drawing';
import { coarsened, scaleOf } from '../parts/scale';
import { type Step, type Steps, writtenOf } from './steps';

/** Where steps are drawn: their axes, and the room that their figures have. In pixels, if nothing else is said. */
export interface Plot {
  lying: boolean;
  grid: ReturnType<typeof roomAround>;
  xAxis: object;
  yAxis: object;
  /** What lies between the ends of the axis, as figures. */
  drawn: { min: number; max: number };
  /** About how long the axis is. */
  length: number;
  /** How much each step has across it. */
  perStep: number;
  /** True where bars leave room for figures at their ends. */
  isWritten: boolean;
  /** True where the axis goes on for them beyond what the steps need. */
  makesRoom: boolean;
  /** What the figure of a step takes of the axis, if the bars lie; of any, if they stand. */
  need: (s: Step) => number;
}

export function plotOf(input: DrawingInput, parts: Parts, of: Steps): Plot {
  const { tile, tokens: t, width, height } = input;
  const { steps, ends, first } = of;
  const by = parts.groups[0];
  const lying = tile.options?.direction ? tile.options.direction === 'lying' : by !== undefined && isWords(by);
  const ticks = lying ? 3 : Math.max(2, Math.floor(height / (60 * t.scale)));
  const perStep = (lying ? height : width) / steps.length;
  const letters = (text: string) => text.length * t.size * 0.6;
  const longestOf = (texts: string[]) => Math.max(...texts.map(letters));
  const figures = steps.map((s) => writtenOf(s, of));
  const isWritten = lying ? perStep > t.size + 2 : perStep > longestOf(figures) + 4;
  const names = steps.map((s) => s.name);
  const members = membersAxis(input, names, lying);
  const grid = roomAround(formatOf(first.column).unit, input, lying, isWritten && !lying ? t.size : 0);
  const plot = width - Math.min(longestOf(names), members.axisLabel.width ?? 0) - 8 - grid.left - grid.right;
  const widest = longestOf(figures) + 8;
  const figureRoom = lying ? widest : t.size + 4;
  const long = lying ? Math.max(widest * 1.5, plot) : Math.max(t.size * 4, height - 4 * t.size);
  // Drawn beside another it keeps the scale of both, however many steps and letters it has itself.
  const makesRoom = isWritten && input.scale === undefined;
  const drawn = coarsened(
    withRoom(
      scaleOf(input.scale ?? [...ends, 0], ticks),
      ends,
      makesRoom ? figureRoom / (long - figureRoom) : 0,
      lying,
    ),
    ticks,
  );
  const axis = figuresAxis(drawn, ticks, first.column, input, lying);
  // Where not every name has room, that of the end is not left out.
  const category = { ...members, axisLabel: { ...members.axisLabel, showMaxLabel: true } };
  return {
    lying,
    grid,
    xAxis: lying ? axis : category,
    yAxis: lying ? category : axis,
    drawn,
    length: lying ? plot : long,
    perStep,
    isWritten,
    makesRoom,
    need: (s) => (lying ? letters(writtenOf(s, of)) + 8 : figureRoom),
  };
}

/**
 * A scale with room for figures at the ends of bars, at either side of nothing.
 * @param share What a figure takes, as a part of the rest of the axis.
 */
function withRoom(scale: ReturnType<typeof scaleOf>, ends: number[], share: number, lying: boolean) {
  if (share === 0) return scale;
  const [least, most] = [Math.min(...ends), Math.max(...ends)];
  const room = (scale.max - scale.min) * share;
  const beside = Math.ceil(room / scale.interval) * scale.interval;
  return {
    ...scale,
    ...(lying && scale.max - most < room ? { max: scale.max + beside } : {}),
    ...(least < 0 && least - scale.min < room ? { min: scale.min - beside } : {}),
  };
}
