import type { Value } from '../../api/client';
import type { Tokens } from '../../look/tokens';

const seen = new Map<string, Map<string, number>>();

/**
 * The colour of a member of a field: the one that the field's definition fixes, else the same on all tiles of a dashboard,
 * in the order in which members were first seen.
 * Beyond the series colours it is that of the rest.
 */
export function colourOf(
  dashboard: string,
  field: string,
  member: Value,
  tokens: Tokens,
  fixed?: Record<string, string> | null,
): string {
  const given = typeof member === 'string' ? fixed?.[member] : undefined;
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
  return tokens.series[index] ?? tokens.rest;
}
