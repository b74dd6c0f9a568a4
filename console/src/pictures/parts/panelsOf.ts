import type { ColumnInfo, TileResult, Value } from '../../api/client';
import { isWords, label } from '../../model/labels';

type Table = NonNullable<TileResult['table']>;

/** What one of the pictures of a tile is drawn of that has one for each member of a field. */
export interface Panel {
  member: Value;
  column: ColumnInfo;
  table: Table;
}

/** A result apart by the members of one of its groups, in their order, each without that column. */
export function panelsOf(table: Table, group: number): Panel[] {
  const at = table.columns.flatMap((c, i) => (c.role === 'group' ? [i] : []))[group] ?? -1;
  const column = table.columns[at];
  if (!column) return [];
  const rows = new Map<string, number[]>();
  (table.values[at] as Value[]).forEach((v, row) => {
    const key = JSON.stringify(v);
    const of = rows.get(key);
    if (of) of.push(row);
    else rows.set(key, [row]);
  });
  const members = [...rows.keys()].map((k) => JSON.parse(k) as Value);
  const read = (v: Value) => (isWords(column) ? label(v, column) : v);
  members.sort((a, b) => {
    if (a === null || b === null) return a === null ? 1 : -1;
    const [x, y] = [read(a) as string, read(b) as string];
    return x < y ? -1 : x > y ? 1 : 0;
  });
  return members.map((member) => ({
    member,
    column,
    table: {
      ...table,
      columns: table.columns.filter((_, i) => i !== at),
      values: table.values
        .filter((_, i) => i !== at)
        .map((values) => (rows.get(JSON.stringify(member)) ?? []).map((row) => values[row] as Value)),
    },
  }));
}
