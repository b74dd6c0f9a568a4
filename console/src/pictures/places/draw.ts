import type { Value } from '../../api/client';
import { allOthers, formatOf, label } from '../../model/labels';
import { type Plane, seenThrough } from '../../model/lens';
import { type Areas, lensOf, planeOf } from '../map/draw';
import { figureColours, middleOf, shade } from '../parts/colours';
import {
  after,
  base,
  besidePoint,
  type Draw,
  type DrawingInput,
  html,
  opacityOf,
  type Parts,
  partsOf,
  type Tips,
  tip,
  tipsOf,
} from '../parts/drawing';
import { scaleLegend } from '../parts/scaleLegend';

/** With more points than this their names would cover one another: they stand in the tip. */
const named = 25;

type Figure = Parts['figures'][number];

/** A member at its place. */
interface Place {
  row: number;
  member: Value;
  name: string;
  x: number;
  y: number;
}

/** What a point is placed, sized and coloured by. */
interface Figures {
  longitude: Figure;
  latitude: Figure;
  size: Figure | undefined;
  shown: Figure | undefined;
}

/**
 * How points are drawn on a map.
 * @param name What the drawing library knows the areas by.
 */
export const placesOn =
  (areas: Areas, name: string): Draw =>
  (input) => {
    const { tokens: t } = input;
    const parts = partsOf(input.table);
    const [longitude, latitude, size, shown] = parts.figures;
    if (!parts.groups[0] || !longitude || !latitude) return { option: base(t), marks: [] };
    const of: Figures = { longitude, latitude, size, shown };
    const tips = tipsOf(input);
    const plane = planeOf(areas);
    const { points, lost } = placesIn(parts, of, plane);
    const looks = looksOf(points, of, input);
    const note =
      lost.length > 0
        ? `Not on the map: ${lost.slice(0, 4).join(', ')}${lost.length > 4 ? ` and ${lost.length - 4} more` : ''}.`
        : undefined;
    return {
      option: {
        ...base(t, false),
        ...looks.legend,
        geo: {
          map: name,
          roam: false,
          ...lensOf(input),
          silent: true,
          aspectScale: 0.9,
          left: 8,
          right: looks.right,
          top: 6,
          bottom: note ? 18 * t.scale : 6,
          itemStyle: { areaColor: shade(t.rest, 0.35, t), borderColor: t.surface, borderWidth: 1 },
          label: { show: false },
        },
        series: [seriesOf(points, of, looks, plane, input)],
        tooltip: {
          ...(base(t).tooltip as object),
          formatter: (at: { dataIndex: number }) => tipAt(points[at.dataIndex], of, looks, tips),
        },
      },
      marks: points.map((p, i) => ({
        member: [p.member],
        isRest: false,
        text: `${p.name}: ${figuresInWords(p, of)}${after(tips.words(p.row))}`,
        series: 0,
        data: i,
      })),
      points: points.map((p) => [p.x, p.y]),
      coordinates: 'geo',
      plane,
      note,
      summary: lost.length > 0 ? `${lost.length} not on the map` : undefined,
    };
  };

/** The members that lie on the map, and the names of those that do not: the mean place of several members is none of theirs. */
function placesIn(parts: Parts, { longitude, latitude }: Figures, { x: [west, east], y: [south, north] }: Plane) {
  const [by] = parts.groups;
  const points: Place[] = [];
  const lost: string[] = [];
  for (let row = 0; row < parts.rows; row++) {
    const member = parts.group(0)[row] ?? null;
    const [x, y, isRest] = [longitude.values[row] ?? null, latitude.values[row] ?? null, parts.isRest(row)];
    const name = isRest || !by ? allOthers : label(member, by);
    const isOn = x !== null && y !== null && x >= west && x <= east && y >= south && y <= north;
    if (isOn && !isRest) points.push({ row, member, name, x, y });
    else lost.push(name);
  }
  return { points, lost };
}

/** How large points are and in which colour; the legend of their colours and the room that it takes at the right, in pixels. */
function looksOf(points: Place[], { size, shown }: Figures, input: DrawingInput) {
  const { tile, tokens: t } = input;
  const most = Math.max(0, ...(size?.values ?? []).map((v) => Math.abs(v ?? 0)));
  const figures = points.map((p) => shown?.values[p.row]).filter((v): v is number => typeof v === 'number');
  const colours = figureColours(figures, t, middleOf(tile));
  const hasLegend = shown !== undefined && figures.length > 0;
  return {
    colour: (row: number) => {
      const value = shown?.values[row];
      if (!shown) return t.series[0] ?? t.accent;
      return typeof value === 'number' ? colours.of(value) : t.rest;
    },
    radius: (row: number) =>
      (size ? 7 + 19 * Math.sqrt(most === 0 ? 0 : Math.abs(size.values[row] ?? 0) / most) : 11) * t.scale,
    legend: hasLegend ? { visualMap: { ...scaleLegend(colours, formatOf(shown.column), input), seriesIndex: [] } } : {},
    right: hasLegend ? 88 : 8,
  };
}

type Looks = ReturnType<typeof looksOf>;

/** The points as the drawing library takes them. */
function seriesOf(points: Place[], { shown }: Figures, looks: Looks, plane: Plane, input: DrawingInput): object {
  const { tile, tokens: t, selection } = input;
  const seen = seenThrough(input.lens, plane).x;
  const acrossAt = (x: number) => 8 + ((x - seen[0]) / (seen[1] - seen[0])) * (input.width - 8 - looks.right);
  return {
    type: 'scatter',
    coordinateSystem: 'geo',
    selectedMode: false,
    label: {
      show: points.length <= named,
      position: 'top',
      distance: 2,
      color: t.ink,
      fontSize: t.size - 1,
      textBorderColor: t.surface,
      textBorderWidth: 2,
      formatter: (p: { dataIndex: number }) => points[p.dataIndex]?.name ?? '',
    },
    labelLayout: { hideOverlap: true },
    data: points.map((p) => ({
      value: [p.x, p.y],
      symbolSize: looks.radius(p.row),
      label: besidePoint(p.name, acrossAt(p.x), input.width - looks.right + 8, t),
      itemStyle: {
        color: looks.colour(p.row),
        borderColor: t.ink,
        borderWidth: shown ? 1 : 0,
        opacity: (tile.pick === 'none' ? 1 : opacityOf(selection, [p.member], false)) * 0.92,
      },
    })),
  };
}

/** What is told of a point in a tip. */
function tipAt(p: Place | undefined, { longitude, latitude, size, shown }: Figures, looks: Looks, tips: Tips): string {
  if (!p) return '';
  const colour = looks.colour(p.row);
  if (tips.isSentence) return tips.of(p.row, colour, '', null, longitude.column);
  const told = [size, shown].filter((f) => f !== undefined);
  const last = told.pop() ?? latitude;
  if (last === latitude) told.push(longitude);
  const lines = told.map((f) => tip('transparent', f.column.title, f.values[p.row] ?? null, f.column));
  const rest = tips.of(p.row, colour, last.column.title, last.values[p.row] ?? null, last.column);
  return `<div>${html(p.name)}</div>${lines.join('')}${rest}`;
}

/** What a point is sized and coloured by, as a text; where it has no size its place. */
const figuresInWords = (p: Place, { longitude, latitude, size, shown }: Figures) =>
  [size, shown]
    .flatMap((f) => (f ? [`${f.column.title} ${label(f.values[p.row] ?? null, f.column)}`] : []))
    .concat(size ? [] : [`${label(p.x, longitude.column)}, ${label(p.y, latitude.column)}`])
    .join(', ');
