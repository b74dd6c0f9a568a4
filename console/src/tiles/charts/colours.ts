import type { Value } from '../../api/client';
import type { Tokens } from '../../look/tokens';

const seen = new Map<string, Map<string, number>>();

/**
 * The colour of a member of a field: the one that the field's definition fixes, else the same on all tiles of a dashboard,
 * in the order in which members were first seen.
 * Beyond the series colours it is a light or dark shade of one of them, so that no two neighbours of a legend look alike.
 */
export function colourOf(
  dashboard: string,
  field: string,
  member: Value,
  tokens: Tokens,
  fixed?: Record<string, string> | null,
): string {
  const given = member === null ? undefined : fixed?.[String(member)];
  if (given) return given;
  const name = `${dashboard}\n${field.split('.')[0]}`;
  let members = seen.get(name);
  if (!members) {
    members = new Map();
    seen.set(name, members);
  }
  const key = JSON.stringify(member);
  let index = members.get(key);
  if (index === undefined) {
    index = members.size;
    members.set(key, index);
  }
  return tokens.series[index] ?? beyond(tokens, index);
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
