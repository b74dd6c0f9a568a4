import type { ColumnInfo, TileInfo, Value } from '../../api/client';
import { contrastOf, mixed } from '../../look/colour';
import { light, type Tokens } from '../../look/tokens';

/**
 * The colour of a member of a column: the one that the field's definition fixes, else the series colour at the place that the
 * service gives it. Beyond the series colours it is a light or dark shade of one of them, so that no two neighbours of a legend
 * look alike.
 */
export function colourOf(column: Pick<ColumnInfo, 'colours' | 'places'>, member: Value, tokens: Tokens): string {
  if (member === null) return tokens.rest;
  const given = fixedOf(column, member, tokens);
  const place = column.places?.[String(member)];
  return given ?? (place === undefined ? tokens.rest : (tokens.series[place] ?? beyond(tokens, place)));
}

/** The colour that the definition fixes for a member, as the look has it; undefined if it fixes none. */
export function fixedOf(
  column: Pick<ColumnInfo, 'colours'>,
  member: Value | undefined,
  tokens: Tokens,
): string | undefined {
  const given = member === null || member === undefined ? undefined : column.colours?.[String(member)];
  if (given === undefined || (tokens.surface === light.surface && !tokens.patterns)) return given;
  // A series colour is that series in every look; another is moved to the ink until it stands out.
  const series = tokens.series[tokens.named.indexOf(given.toUpperCase())];
  if (series) return series;
  let shown = given;
  for (let step = 0; step < 6 && contrastOf(shown, tokens.surface) < 3; step++) shown = mixed(shown, tokens.ink, 0.25);
  return shown;
}

/** What can be read on a colour: the ink of the page or its opposite. */
export const onColour = (colour: string, t: Tokens): string =>
  contrastOf(colour, t.ink) >= contrastOf(colour, t.surface) ? t.ink : t.surface;

/** A colour moved as little as makes what is written on it readable (4.5 to 1). */
export function legible(colour: string, t: Tokens): string {
  const text = onColour(colour, t);
  const away = text === t.ink ? t.surface : t.ink;
  let shown = colour;
  for (let step = 0; step < 10 && contrastOf(shown, text) < 4.55; step++) shown = mixed(shown, away, 0.04);
  return shown;
}

/** A colour with some of the surface in it. */
export const shade = (colour: string, share: number, t: Tokens): string =>
  share === 0 ? colour : mixed(colour, t.surface, share);

/** The colours of figures. */
export interface FigureColours {
  of: (value: number) => string;
  /** The figures at the ends of the scale. */
  least: number;
  most: number;
  /** The colours along it, evenly apart. */
  along: readonly string[];
}

/**
 * The colours of figures from little to much, in one hue.
 * @param middle Where given, two hues part there, and figures as far below it as above are as strong.
 */
export function figureColours(figures: readonly number[], t: Tokens, middle?: number): FigureColours {
  const [least, most] = figures.length > 0 ? [Math.min(...figures), Math.max(...figures)] : [0, 0];
  if (middle === undefined) {
    const place = (value: number) => (most === least ? 0.5 : (value - least) / (most - least));
    return { of: (v) => mixed(t.sequential[0], t.sequential[1], place(v)), least, most, along: t.sequential };
  }
  const [below, between, above] = t.diverging;
  const reach = Math.max(Math.abs(most - middle), Math.abs(middle - least)) || 1;
  const of = (v: number) => mixed(between, v < middle ? below : above, Math.min(1, Math.abs(v - middle) / reach));
  // The scale ends where the figures do, which may be nearer to the middle on one side.
  const along = Array.from({ length: 9 }, (_, i) => of(least + ((most - least) * i) / 8));
  return { of, least, most, along };
}

/** The middle that a tile states for its colours; undefined for one hue. */
export const middleOf = ({ options }: Pick<TileInfo, 'options'>): number | undefined =>
  options?.middle === undefined ? undefined : Number(options.middle);

/** A shade of a series colour: every round through them half way to the surface, or to the ink. */
function beyond(tokens: Tokens, index: number): string {
  const round = Math.floor(index / tokens.series.length);
  if (round > 2) return tokens.rest;
  const [from, to] = [
    tokens.series[index % tokens.series.length] ?? tokens.rest,
    round === 1 ? tokens.surface : tokens.ink,
  ];
  return mixed(from, to, 0.5);
}
