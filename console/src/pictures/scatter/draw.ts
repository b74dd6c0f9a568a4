import type { ColumnInfo } from '../../api/client';
import { label } from '../../model/labels';
import { hasPick, isPicked, isRestPicked } from '../../model/selections';
import {
  after,
  base,
  besidePoint,
  type Drawing,
  type DrawingInput,
  html,
  type Parts,
  partsOf,
  roomForNote,
  type Tips,
  tip,
  tipsOf,
} from '../parts/drawing';
import { patternOf } from '../parts/patterns';
import { axesOf, axisOf, type Ends } from './axes';
import { cells } from './cells';
import { colourOfPart, dense, looksOf, noteOfShapes, type Point, type Points, pointsOf } from './points';

type Figure = Parts['figures'][number];

/** A point for each member, placed by two figures. */
export function draw(input: DrawingInput): Drawing {
  const { tokens: t } = input;
  const parts = partsOf(input.table);
  const [across, up, size] = parts.figures;
  const by = parts.groups[0];
  if (across && up && size && !by) return cells(input);
  if (!by || !across || !up) return { option: base(t), marks: [] };
  const of = pointsOf(input, parts);
  // Where no point has both figures there is no axis either.
  if (of.all.length === 0) return { option: base(t), marks: [] };
  const tips = tipsOf(input);
  const note = noteOfShapes(of, input);
  const { grid, xAxis, yAxis, plane, isNamed, at } = plotOf(input, of, across, up, note);
  const start = base(t, false);
  const points = of.shown;
  return {
    option: {
      ...start,
      grid,
      xAxis,
      yAxis,
      series: [seriesOf(input, of, isNamed, at), ...(points.length > dense ? [pickedAbove(input, of)] : [])],
      tooltip: {
        ...(start.tooltip as object),
        formatter: ({ dataIndex }: { dataIndex: number }) =>
          tipAt(points[dataIndex], of, [across, up, ...(size ? [size] : [])], tips, input),
      },
    },
    note,
    legend: of.split
      ? of.parts.map((part, place) => ({
          name: label(part, of.split as ColumnInfo),
          colour: colourOfPart(of, part, t),
          mark: 'point',
          pattern: patternOf(t, place),
        }))
      : undefined,
    points: points.map((p) => [p.x, p.y]),
    plane,
    marks: points.map((p, i) => ({
      member: p.member,
      isRest: p.isRest,
      // Of many points few are ever read.
      get text() {
        return `${of.wholeNameOf(p)}: ${label(p.x, across.column)}, ${label(p.y, up.column)}${after(tips.words(p.row))}`;
      },
      series: 0,
      data: i,
    })),
  };
}

/** Both axes and the room around them; whether points are named, and how far from the left one is, in pixels. */
function plotOf(input: DrawingInput, { all, shown }: Points, across: Figure, up: Figure, note: string | undefined) {
  const { tokens: t, width, height } = input;
  const step = t.size / 12;
  const left = 54 * step;
  const above = 24 * step;
  const below = 40 * step + (note ? roomForNote(note, input) : 0);
  const inside = width - left - 16;
  const axes = axesOf(
    input.ends?.[0] ?? endsOf(all.map((p) => p.x)),
    input.ends?.[1] ?? endsOf(all.map((p) => p.y)),
    input,
  );
  const axis = (column: ColumnInfo, nameGap: number, ends: Ends, maxWidth: number) => ({
    ...axisOf(column, ends, t),
    nameTruncate: { maxWidth },
    nameGap,
    splitLine: { lineStyle: { color: t.hairline } },
  });
  const { seen } = axes;
  const isIn = (v: number, [least, greatest]: [number, number]) => v >= least && v <= greatest;
  return {
    grid: { left, right: 16, top: above, bottom: below },
    xAxis: axis(across.column, 26 * step, axes.x, inside),
    // The name of the upright axis stands at its middle, which is above the tile's where a note is below.
    yAxis: axis(up.column, 42 * step, axes.y, Math.min(height - 50, height + above - below - 4)),
    plane: axes.plane,
    // With more points than this names would cover one another: they stand in the tip.
    isNamed: shown.filter((p) => isIn(p.x, seen.x) && isIn(p.y, seen.y)).length <= 30 && !input.isSmall,
    at: (p: Point) => ((p.x - seen.x[0]) / (seen.x[1] - seen.x[0])) * inside,
  };
}

const endsOf = (values: number[]): [number, number] =>
  values.reduce<[number, number]>(
    ([low, high], v) => [Math.min(low, v), Math.max(high, v)],
    [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY],
  );

/** The points as the drawing library takes them. @param at How far from the left of the plot one is, in pixels. */
function seriesOf(input: DrawingInput, of: Points, isNamed: boolean, at: (p: Point) => number): object {
  const { tokens: t, width } = input;
  const points = of.shown;
  const looks = looksOf(of, input);
  const room = width - 54 * (t.size / 12) - 8;
  return {
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
      formatter: ({ dataIndex }: { dataIndex: number }) => {
        const p = points[dataIndex];
        return p ? of.shortNameOf(p) : '';
      },
    },
    labelLayout: { hideOverlap: true },
    ...(points.length > dense && !isNamed
      ? { ...looks.ofAll, data: points.map((p) => [p.x, p.y]) }
      : {
          data: points.map((p) => ({
            value: [p.x, p.y],
            ...looks.of(p),
            // At the edges a name stands beside its point: there it would be cut.
            ...(isNamed ? { label: besidePoint(of.shortNameOf(p), at(p), room, t) } : {}),
          })),
        }),
  };
}

/**
 * Of so many points that they cover one another those that are picked, once more above all others. Of more than half of them none: what
 * little is faint covers them nowhere.
 */
function pickedAbove(input: DrawingInput, of: Points): object {
  const { selection } = input;
  const isOne = (p: Point) => (p.isRest ? isRestPicked(selection) : isPicked(selection, p.member));
  const picked = hasPick(selection) ? of.shown.filter(isOne) : [];
  const points = picked.length > of.shown.length / 2 ? [] : picked;
  return {
    type: 'scatter',
    silent: true,
    z: 3,
    ...looksOf({ ...of, shown: points }, input).ofAll,
    data: points.map((p) => [p.x, p.y]),
  };
}

function tipAt(p: Point | undefined, of: Points, figures: Figure[], tips: Tips, { tokens: t }: DrawingInput): string {
  const last = figures[figures.length - 1];
  if (!p || !last) return '';
  const colour = colourOfPart(of, p.part, t);
  if (tips.isSentence) return tips.of(p.row, colour, '', null, last.column);
  const own = figures.slice(0, -1).map((f) => tip(colour, f.column.title, f.values[p.row], f.column));
  const rest = tips.of(p.row, colour, last.column.title, last.values[p.row], last.column);
  return `<div>${html(of.wholeNameOf(p))}</div>${own.join('')}${rest}`;
}
