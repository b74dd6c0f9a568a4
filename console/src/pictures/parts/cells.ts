import type { CSSProperties } from 'react';
import type { ColumnInfo, TileInfo, Value } from '../../api/client';
import type { Tokens } from '../../look/tokens';
import { bareNumber, formatOf } from '../../model/labels';
import { figureColours, legible, onColour } from './colours';

/** What stands before a figure: which way it goes, where its cells have arrows. */
export const arrowOf = (drawn: string | undefined, value: unknown): string =>
  drawn !== 'arrow' || typeof value !== 'number' ? '' : value > 0 ? '▲ ' : value < 0 ? '▼ ' : '● ';

/** A part of a legend of cells: a colour and the figures that have it. */
export interface CellKey {
  background: string;
  words: string;
}

/** How the cells of a column are drawn. */
export interface CellLook {
  style: (value: unknown) => CSSProperties | undefined;
  /** What a band is called, for who can't see its colour. */
  words?: (value: unknown) => string | undefined;
  /** What its colours mean; none where the cells tell by themselves. */
  keys: CellKey[];
}

type Bands = NonNullable<TileInfo['cells']>['bands'][string];

const colourOf = (is: string, t: Tokens) => {
  const mark = { good: t.good, fair: t.warning, bad: t.danger }[is];
  return mark && `color-mix(in srgb, ${mark} 24%, ${t.surface})`;
};

function bandsOf(bands: Bands, column: ColumnInfo, t: Tokens): CellLook {
  const bandOf = (value: unknown) =>
    typeof value === 'number' ? bands.find((b) => b.below === null || value < Number(b.below)) : undefined;
  const written = (value: number | string | null | undefined) =>
    `${bareNumber(Number(value), column)} ${formatOf(column).unit}`.trim();
  return {
    style: (value) => {
      const band = bandOf(value);
      const background = band && colourOf(band.is, t);
      return background ? { background, color: t.ink } : undefined;
    },
    words: (value) => bandOf(value)?.title ?? undefined,
    keys: bands.map((b, i) => ({
      background: colourOf(b.is, t) ?? t.surface,
      words: [
        b.title,
        b.below !== null ? `below ${written(b.below)}` : i > 0 ? `from ${written(bands[i - 1]?.below)}` : undefined,
      ]
        .filter(Boolean)
        .join(', '),
    })),
  };
}

/** How the cells of a column are drawn; undefined for plain ones. */
export function cellsOf(
  tile: Pick<TileInfo, 'options' | 'cells'>,
  column: ColumnInfo,
  values: readonly unknown[],
  t: Tokens,
): CellLook | undefined {
  const known = values.filter((v): v is number => typeof v === 'number');
  if (known.length === 0) return undefined;
  const bands = tile.cells?.bands[column.name];
  if (bands) return bandsOf(bands, column, t);
  const drawn = tile.options?.[`cells.${column.name}`];
  // An arrow stands before the figure, in the colour of the text: which way is good is not known.
  if (drawn === undefined || drawn === 'arrow') return undefined;
  if (drawn === 'bar') {
    const longest = Math.max(...known.map(Math.abs));
    return {
      style: (value) => {
        if (typeof value !== 'number') return undefined;
        const share = longest === 0 ? 0 : (100 * Math.abs(value)) / longest;
        // A negative figure has the colour of what falls short.
        const colour = `color-mix(in srgb, ${value < 0 ? t.danger : t.accent} 28%, transparent)`;
        return { background: `linear-gradient(90deg, ${colour} ${share.toFixed(1)}%, transparent 0)` };
      },
      keys: [],
    };
  }
  return scaleOf(known, t, drawn === 'diverging' ? 0 : undefined, column);
}

/** Colours from the least to the greatest figure, or from below to above a middle. */
export function scaleOf(known: number[], t: Tokens, middle: number | undefined, column?: ColumnInfo): CellLook {
  const colours = figureColours(known, t, middle);
  const [least, greatest] = [Math.min(...known), Math.max(...known)];
  // A middle that lies outside of the figures is in none of their colours.
  const isBetween = middle !== undefined && least < middle && middle < greatest;
  const ends = isBetween ? [least, middle, greatest] : [least, greatest];
  return {
    style: (value) => {
      if (typeof value !== 'number') return undefined;
      const colour = legible(colours.of(value), t);
      return { background: colour, color: onColour(colour, t) };
    },
    keys:
      column && least < greatest
        ? [
            {
              background: `linear-gradient(90deg, ${ends.map((v) => colours.of(v)).join(', ')})`,
              words: `${ends.map((v) => bareNumber(v, column)).join(' – ')} ${formatOf(column).unit}`.trim(),
            },
          ]
        : [],
  };
}

/** The names in braces in a text. */
export const namesIn = (pattern: string): string[] => [...pattern.matchAll(/\{([^{}]*)\}/g)].map((m) => m[1] ?? '');

/** A text with the values of a line in place of the names of columns in braces. */
export const filled = (pattern: string, columns: ColumnInfo[], cellAt: (at: number) => string): string =>
  pattern.replace(/\{([^{}]*)\}/g, (_, name: string) => {
    const at = columns.findIndex((c) => c.name === name);
    return at < 0 ? '–' : cellAt(at);
  });

/** The address that a cell leads to: values of the data stand in it as data and never as a part of an address. */
export const addressOf = (pattern: string, columns: ColumnInfo[], cellAt: (at: number) => Value): string =>
  filled(pattern, columns, (at) => encodeURIComponent(String(cellAt(at) ?? '')));
