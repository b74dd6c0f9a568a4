import type { ColumnInfo, Value } from '../../api/client';
import type { Tokens } from '../../look/tokens';
import { allOthers, label } from '../../model/labels';
import { colourOf } from '../parts/colours';
import { type DrawingInput, opacityOf, type Parts, roomForNote } from '../parts/drawing';
import { patternOf } from '../parts/patterns';

/** With more points than this each is small, so that they do not cover one another. */
export const dense = 500;

/** The shapes of points in order, and how they stand in a text. */
const symbols = ['circle', 'rect', 'triangle', 'diamond', 'emptyCircle', 'emptyRect', 'emptyTriangle', 'emptyDiamond'];
const signs = ['●', '■', '▲', '◆', '○', '□', '△', '◇'];

/** A member as a point. */
export interface Point {
  /** The line of the result. */
  row: number;
  member: Value[];
  /** The member of the field that its shape tells, by its place among all of them. */
  shape: number | undefined;
  /** The member of the field that its colour tells. */
  part: Value | undefined;
  isRest: boolean;
  x: number;
  y: number;
  radius: number;
}

/** Points, and what they are called. */
export interface Points {
  /** All of them; those that are shown. */
  all: Point[];
  shown: Point[];
  /** The field that colour tells, and its members. */
  split: ColumnInfo | undefined;
  parts: Value[];
  /** The field that shape tells, and its members. */
  shapeBy: ColumnInfo | undefined;
  shapes: Value[];
  nameOf: (p: Point) => string;
  /** Without what its shape tells. */
  shortNameOf: (p: Point) => string;
  /** With what its colour tells. */
  wholeNameOf: (p: Point) => string;
}

/** What has both figures, as points. @param members How many groups name a member; one more is told by colour. */
export function pointsOf(input: DrawingInput, parts: Parts): Points {
  const { tile, hidden } = input;
  const members = Math.max(1, tile.by?.length ?? 1);
  const split = parts.groups[members];
  const shapeAt = parts.groups.findIndex((g, i) => i < members && g.name === tile.options?.shape);
  const shapeBy = parts.groups[shapeAt];
  const shapes = shapeBy ? [...new Set(parts.group(shapeAt))].sort() : [];
  const [across, up, size] = parts.figures;
  const most = (input.ends?.[2] ?? size?.values ?? []).reduce<number>((max, v) => Math.max(max, Math.abs(v ?? 0)), 1);
  const all = Array.from({ length: parts.rows }, (_, row) => row).flatMap((row): Point[] => {
    const [x, y] = [across?.values[row] ?? null, up?.values[row] ?? null];
    if (x === null || y === null) return [];
    const member = Array.from({ length: members }, (_, g) => parts.group(g)[row] ?? null);
    return [
      {
        row,
        member,
        shape: shapeBy ? shapes.indexOf(member[shapeAt] ?? null) : undefined,
        part: split ? (parts.group(members)[row] ?? null) : undefined,
        isRest: parts.isRest(row),
        x,
        y,
        radius: size ? 5 + 19 * Math.sqrt(Math.abs(size.values[row] ?? 0) / most) : parts.rows > dense ? 4 : 9,
      },
    ];
  });
  const written = (p: Point, g: number) => label(p.member[g], parts.groups[g] as ColumnInfo);
  const nameOf = (p: Point) => (p.isRest ? allOthers : p.member.map((_, g) => written(p, g)).join(', '));
  return {
    all,
    shown: split ? all.filter((p) => !hidden?.has(label(p.part ?? null, split))) : all,
    split,
    parts: split ? [...new Map(all.map((p) => [JSON.stringify(p.part), p.part as Value])).values()] : [],
    shapeBy,
    shapes,
    nameOf,
    shortNameOf: (p) => (p.isRest || !shapeBy ? nameOf(p) : written(p, shapeAt === 0 ? 1 : 0)),
    wholeNameOf: (p) => (split ? `${nameOf(p)}, ${label(p.part, split)}` : nameOf(p)),
  };
}

/** The colour of the points of a part. */
export const colourOfPart = ({ split }: Points, part: Value | undefined, t: Tokens): string =>
  split ? colourOf(split, part ?? null, t) : (t.series[0] ?? t.accent);

/**
 * How points look: each by itself, or all of them by what is asked of each when it is drawn, which of many takes a part of the time.
 * There its opacity is a part of its colour, of six hexadecimal digits, since nothing else of a style can be asked of each.
 */
export function looksOf(of: Points, { tokens: t, selection }: DrawingInput) {
  const points = of.shown;
  const symbolOf = (p: Point) =>
    p.shape !== undefined
      ? symbols[p.shape % symbols.length]
      : t.patterns
        ? patternOf(t, of.split ? of.parts.indexOf(p.part ?? null) : 0)?.symbol
        : undefined;
  const colourAt = (p: Point) => colourOfPart(of, p.part, t);
  const opacityAt = (p: Point) => opacityOf(selection, p.member, p.isRest) * (points.length > dense ? 0.55 : 0.9);
  const point = ({ dataIndex }: { dataIndex: number }) => points[dataIndex] as Point;
  const alpha = (p: Point) => Math.round(opacityAt(p) * 255);
  return {
    of: (p: Point) => ({
      symbolSize: p.radius,
      symbol: symbolOf(p),
      itemStyle: { color: colourAt(p), opacity: opacityAt(p) },
    }),
    ofAll: {
      symbolSize: (_: unknown, at: { dataIndex: number }) => point(at).radius,
      symbol: (_: unknown, at: { dataIndex: number }) => symbolOf(point(at)) ?? 'circle',
      itemStyle: {
        color: (at: { dataIndex: number }) => `${colourAt(point(at))}${alpha(point(at)).toString(16).padStart(2, '0')}`,
      },
    },
  };
}

/** Which shape means which member: as many as leave two thirds of the height to the picture. The tips tell all. */
export function noteOfShapes({ shapes, shapeBy }: Points, input: DrawingInput): string | undefined {
  if (!shapeBy) return undefined;
  const texts = shapes.map((v, i) => `${signs[i % signs.length]}\u00a0${label(v, shapeBy)}`);
  const upTo = (n: number) =>
    [...texts.slice(0, n), ...(n < texts.length ? [`and ${texts.length - n} more`] : [])].join('  ');
  let n = texts.length;
  while (n > 1 && roomForNote(upTo(n), input) > input.height / 3) n--;
  return upTo(n);
}
