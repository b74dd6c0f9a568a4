import type { EChartsCoreOption } from 'echarts/core';
import type { ColumnInfo, TileInfo, TileResult, Value } from '../../api/client';
import type { Tokens } from '../../look/tokens';
import { types } from '../../look/type';
import { allOthers, label } from '../../model/labels';
import type { Lens, Plane } from '../../model/lens';
import { hasPick, isPicked, isRestPicked, type Member, type Selection } from '../../model/selections';
import type { AxisWindow } from '../../model/window';
import { type Pattern, patternOf } from './patterns';

/** A mark that can be picked, and where it is drawn. */
export interface Mark {
  member: Member;
  isRest: boolean;
  text: string;
  series: number;
  data: number;
}

/** What stands along an axis on which a range can be drawn. */
export interface Along {
  members: Value[];
  /** The grain of dates. */
  at: string | null;
  /** Where members are the starts of ranges: the ends of all ranges, one more than there are members. */
  edges?: Value[];
}

/** Bars as lengths along an axis. */
export interface Bars {
  /** All that is drawn but their lengths, as text: while it stays the same, only they move. */
  still: string;
  /** Of each series the figures between which each bar lies; null for no bar. */
  ends: ([from: number, to: number] | null)[][];
  /** True if they lie. */
  lying: boolean;
}

/** A series by its name and colour. */
export interface LegendEntry {
  name: string;
  colour: string;
  /** What it is drawn as; what is filled, if left out. */
  mark?: 'line' | 'point';
  /** What tells it apart where colour does not. */
  pattern?: Pattern;
}

/** The whole of an axis of which a part is shown. */
export interface Overview {
  members: Value[];
  names: string[];
  /** How large each is, all series together; nothing is below nothing. */
  heights: number[];
  /** The places of the first and last member shown. */
  shown: [number, number];
}

/** A picture as the drawing library takes it, and its marks. */
export interface Drawing {
  option: EChartsCoreOption;
  marks: Mark[];
  /** The members along a horizontal axis of dates or numbers, on which a range can be drawn. */
  along?: Along;
  /** True for bars that lie, so that their members stand one below the other. */
  lying?: boolean;
  /** Where its axis of figures begins and ends, if it may be longer than the figures need. */
  reach?: readonly number[];
  /** For bars: what can be moved where nothing else changes. */
  bars?: Bars;
  /** Its series, those that are hidden too, where there are several. */
  legend?: LegendEntry[];
  /** Its whole axis, where that is of dates or numbers. */
  overview?: Overview;
  /** What has to be known beside the picture: a sentence. */
  note?: string;
  /** What a screen reader is told of the whole. */
  summary?: string;
  /** Where marks are points: where each lies. */
  points?: [number, number][];
  /** What those places are counted on: axes, if left out, or a map; a map of areas is a series by itself. */
  coordinates?: 'geo' | { seriesIndex: number };
  /** The whole of what is drawn on both axes, of which a part can be seen larger. */
  plane?: Plane;
}

export interface DrawingInput {
  tile: TileInfo;
  table: NonNullable<TileResult['table']>;
  partial: Value[];
  /** Members of the first two groups that together name a period which is not whole. */
  partialPairs?: Value[][];
  /** The single values beyond the whiskers of boxes. */
  outliers?: TileResult['outliers'];
  weekStarts: string;
  selection?: Selection;
  /** The series that are not to be drawn, by name. */
  hidden?: ReadonlySet<string>;
  tokens: Tokens;
  width: number;
  height: number;
  /** The part of its axis that is shown; as it opens, if left out. */
  window?: AxisWindow;
  /** The part of its plane that is shown, larger. */
  lens?: Lens;
  /** True where it is one of many small ones: what can stand within the labels of an axis takes no line of its own. */
  isSmall?: boolean;
  /** The least and greatest figure of the axis, where two pictures are to be compared. */
  scale?: [number, number];
  /** The same for each figure by itself, where each has an axis of its own. */
  ends?: [number, number][];
  /** Figures for which the axis has room whether they are drawn or not. */
  reach?: readonly number[];
}

/** Draws a result: a pure function, so that the same input gives the same picture on every machine. */
export type Draw = (input: DrawingInput) => Drawing;

/** What a kind of picture that is drawn from marks brings. */
export interface Drawn {
  draw: Draw;
  /** What a screen reader calls it. */
  words: string;
  /** What a click beside a mark means: the mark whose band it is in, or the nearest along the axis. */
  target?: 'band' | 'nearest';
  /** True if the parts of a split lie on one another where they add up; along if its members add up one after the other. */
  stacks?: boolean | 'along';
  /** If it is one of several for the members of a field, its member: what is around them is drawn once. */
  panel?: [Value];
  /** For one of several: the axis of all of them, of which the same part is shown in each. */
  overview?: Overview;
  /** The least height, in sizes of type, in which one of several can be read; for one axis of figures if left out. */
  lowest?: number;
  /** True if a drawn rectangle picks the marks in it. */
  boxes?: boolean;
}

export interface Parts {
  groups: ColumnInfo[];
  figures: { column: ColumnInfo; values: (number | null)[] }[];
  group: (g: number) => Value[];
  isRest: (row: number) => boolean;
  rows: number;
}

export const faint = 0.3;
export const html = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

export function partsOf(table: DrawingInput['table']): Parts {
  const at = (role: string) => table.columns.map((c, i) => ({ c, i })).filter((x) => x.c.role === role);
  const groups = at('group');
  const rest = at('rest')[0]?.i;
  return {
    groups: groups.map((g) => g.c),
    figures: at('figure').map((f) => ({ column: f.c, values: (table.values[f.i] ?? []) as (number | null)[] })),
    group: (g) => table.values[groups[g]?.i ?? -1] ?? [],
    isRest: (row) => rest !== undefined && table.values[rest]?.[row] === true,
    rows: table.values[0]?.length ?? 0,
  };
}

export const opacityOf = (selection: Selection | undefined, member: Member, isRest: boolean) =>
  !hasPick(selection) || (isRest ? isRestPicked(selection) : isPicked(selection, member)) ? 1 : faint;

const dot = (colour: string) =>
  `<span style="flex:none;width:8px;height:8px;border-radius:2px;background:${colour}"></span>`;

/** A line of a tooltip: colour, name, figure. */
export const tip = (colour: string, name: string, value: Value | undefined, column: ColumnInfo) =>
  `<div style="display:flex;gap:8px;align-items:center">${dot(colour)}<span style="flex:1">${html(name)}</span><b>${html(label(value, column))}</b></div>`;

/** Words that follow others, where there are some. */
export const after = (words: string) => (words ? `; ${words}` : '');

/** What a tip says of a line of the result. */
export interface Tips {
  /** The developer's sentence, or the figure with the further measures below it. */
  of: (row: number, colour: string, name: string, value: Value | undefined, column: ColumnInfo) => string;
  /** What a line has beside its figures, as plain words; empty for nothing. */
  words: (row: number) => string;
  /** True if a sentence stands in place of figures. */
  isSentence: boolean;
  /** True if anything is told beside the figures that are drawn. */
  isMore: boolean;
}

/** The tips of a result as its tile has them. */
export function tipsOf({ tile, table }: Pick<DrawingInput, 'tile' | 'table'>): Tips {
  const rest = table.columns.findIndex((c) => c.role === 'rest');
  const text = (at: number, row: number) =>
    table.columns[at]?.role === 'group' && table.values[rest]?.[row] === true
      ? allOthers
      : label(table.values[at]?.[row] ?? null, table.columns[at] as ColumnInfo);
  /** @param space What stands between a figure and its unit. */
  const sentence = (row: number, space = ' ') =>
    (tile.tip ?? '').replace(/\{([^{}]*)\}/g, (_, name: string) => {
      const at = table.columns.findIndex((c) => c.name === name && c.role !== 'rest');
      return at < 0 ? '–' : text(at, row).replace(/(?<=\d) /g, space);
    });
  const more = table.columns.flatMap((c, i) => (c.role === 'tip' ? [i] : []));
  const isSentence = typeof tile.tip === 'string';
  return {
    isSentence,
    isMore: isSentence || more.length > 0,
    of: (row, colour, name, value, column) =>
      isSentence
        ? `<div style="display:flex;gap:8px;align-items:baseline;max-width:320px;white-space:normal">${dot(colour)}<span>${html(sentence(row, '\u00a0'))}</span></div>`
        : tip(colour, name, value, column) +
          more
            .map((i) =>
              tip(
                'transparent',
                table.columns[i]?.title ?? '',
                table.values[i]?.[row] ?? null,
                table.columns[i] as ColumnInfo,
              ),
            )
            .join(''),
    words: (row) =>
      isSentence ? sentence(row) : more.map((i) => `${table.columns[i]?.title} ${text(i, row)}`).join(', '),
  };
}

/**
 * How the name of a point stands: above it, or beside it where it would be cut at an edge, and no wider than there is room.
 * @param x How far the point is from the left, in pixels.
 */
export function besidePoint(name: string, x: number, width: number, t: Tokens) {
  const wide = Math.min(name.length * t.size * 0.56, width * 0.4);
  const position = x < wide / 2 + 4 ? 'right' : x > width - wide / 2 - 4 ? 'left' : 'top';
  return { position, width: wide + 2, overflow: 'truncate' };
}

/**
 * What every drawing begins with.
 * @param hasSeries False where colour tells how much and not which: a pattern would tell nothing, and lie over what is written there.
 */
export const base = (t: Tokens, hasSeries = true): EChartsCoreOption => ({
  animation: false,
  // Where colour does not tell series apart, patterns do.
  ...(t.patterns && hasSeries ? { aria: { enabled: true, label: { enabled: false }, decal: { show: true } } } : {}),
  textStyle: { fontFamily: types, fontSize: t.size, color: t.quiet },
  tooltip: {
    confine: true,
    backgroundColor: t.surface,
    borderColor: t.hairline,
    padding: [6, 10],
    textStyle: { color: t.ink, fontSize: t.size },
    transitionDuration: 0,
  },
});

/** The name of a horizontal axis, below its middle; the plot leaves a line of text free for it. */
export const namedBelow = (name: string, { tokens: t, width }: Pick<DrawingInput, 'tokens' | 'width'>) => ({
  name,
  nameLocation: 'middle',
  nameGap: t.size + 10,
  nameTextStyle: { color: t.quiet, fontSize: t.size },
  // The middle is that of the plot, which has figures at its left.
  nameTruncate: { maxWidth: width - 5 * t.size },
});

/** How much room a note at the lower edge takes, in pixels: in as many lines as it needs. */
export const roomForNote = (note: string, { tokens: t, width }: Pick<DrawingInput, 'tokens' | 'width'>): number =>
  Math.ceil((note.length * t.size * 0.56) / Math.max(100, width - 24)) * Math.round(t.size * 1.7);

/** How the line of a series is drawn. */
export function strokeOf(t: Tokens, series: number) {
  const dash = patternOf(t, series)?.dash;
  return { width: 1.75 * t.scale, ...(dash ? { type: dash.length > 0 ? dash : 'solid' } : {}) };
}
