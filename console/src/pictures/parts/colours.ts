import type { ColumnInfo, Value } from '../../api/client';
import type { Tokens } from '../../look/tokens';

/**
 * The colour of a member of a column: the one that the field's definition fixes, else the series colour at the place that the
 * service gives it. Beyond the series colours it is a light or dark shade of one of them, so that no two neighbours of a legend
 * look alike.
 */
export function colourOf(column: Pick<ColumnInfo, 'colours' | 'places'>, member: Value, tokens: Tokens): string {
  if (member === null) return tokens.rest;
  const given = column.colours?.[String(member)];
  const place = column.places?.[String(member)];
  return given ?? (place === undefined ? tokens.rest : (tokens.series[place] ?? beyond(tokens, place)));
}

/** A shade of a series colour: every round through them half way to the surface, or to the ink. */
function beyond(tokens: Tokens, index: number): string {
  const round = Math.floor(index / tokens.series.length);
  if (round > 2) return tokens.rest;
  const [from, to] = [
    tokens.series[index % tokens.series.length] ?? tokens.rest,
    round === 1 ? tokens.surface : tokens.ink,
  ];
  const part = (hex: string, at: number) => Number.parseInt(hex.slice(at, at + 2), 16);
  const mixed = [1, 3, 5].map((at) =>
    Math.round((part(from, at) + part(to, at)) / 2)
      .toString(16)
      .padStart(2, '0'),
  );
  return `#${mixed.join('')}`;
}
