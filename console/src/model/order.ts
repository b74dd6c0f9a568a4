import type { TileResult } from '../api/client';

type Table = NonNullable<TileResult['table']>;

const groupsOf = (table: Table) =>
  table.columns.flatMap((c, i) => (c.role === 'group' || c.role === 'rest' ? [i] : []));
const linesOf = (table: Table) => table.values[0]?.length ?? 0;

/** The lines of one result in the order of another's, so that the same member stands at the same height; others after them. */
export function inOrderOf(a: Table, b: Table): Table {
  const groups = groupsOf(b);
  const keys = (table: Table, row: number) => JSON.stringify(groups.map((g) => table.values[g]?.[row]));
  const rows = linesOf(a);
  const place = new Map(Array.from({ length: linesOf(b) }, (_, row) => [keys(b, row), row]));
  const order = Array.from({ length: rows }, (_, row) => ({
    row,
    at: place.get(keys(a, row)) ?? rows + place.size + row,
  }));
  order.sort((x, y) => x.at - y.at);
  return { ...a, values: a.values.map((v) => order.map(({ row }) => v[row])) as Table['values'] };
}

/** More lines than this are no bars that somebody follows with the eye. */
const mostFollowed = 200;

/**
 * A result whose members keep the places that they had in the one before, where both have the same members; else as it is. While a
 * hand moves, what is longer than its neighbour for a moment would be somewhere else with each frame.
 */
export function inPlacesOf(after: Table, before: Table): Table {
  if (linesOf(after) !== linesOf(before) || linesOf(after) > mostFollowed) return after;
  const ordered = inOrderOf(after, before);
  const isSame = groupsOf(after).every((g) => ordered.values[g]?.every((v, row) => v === before.values[g]?.[row]));
  return isSame ? ordered : after;
}
