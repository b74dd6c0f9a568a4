import type { TileResult, Value } from '../api/client';
import { allOthers, formatOf, label, writeNumber } from '../model/labels';

type Table = NonNullable<TileResult['table']>;

/** The difference between two results in words: of a single figure, or of the member where it is largest. */
export function differenceOf(a: Table, b: Table): string {
  const at = b.columns.findIndex((c) => c.role === 'figure');
  const column = b.columns[at];
  const mine = a.columns.findIndex((c) => c.name === column?.name);
  if (!column || mine < 0) return '';
  const groups = b.columns.flatMap((c, i) => (c.role === 'group' ? [i] : []));
  const rest = b.columns.findIndex((c) => c.role === 'rest');
  const format = formatOf(column);
  // Between two shares lie points: "8 % less" would be of the one and not of the whole.
  const apart = format.unit === '%' ? { ...format, unit: 'percentage points' } : format;
  const write = (d: number) => `${d > 0 ? '+' : ''}${writeNumber(d, apart)}`;
  const keys = (table: Table, row: number) =>
    JSON.stringify([...groups.map((g) => table.values[g]?.[row]), rest < 0 ? false : table.values[rest]?.[row]]);
  const before = new Map<string, Value>();
  for (let row = 0; row < (a.values[0]?.length ?? 0); row++) before.set(keys(a, row), a.values[mine]?.[row] as Value);
  let largest: { text: string; by: number } | undefined;
  if (column.kind === 'text') return wordsApart(a, b, keys);
  // What stands on one side only is a difference too, of which no figure can be given.
  const isFigure = (v: Value | undefined) => typeof v === 'number';
  const after = new Map<string, Value>();
  for (let row = 0; row < (b.values[0]?.length ?? 0); row++) after.set(keys(b, row), b.values[at]?.[row] as Value);
  const onlyA = [...before].filter(([k, v]) => isFigure(v) && !isFigure(after.get(k))).length;
  const onlyB = [...after].filter(([k, v]) => isFigure(v) && !isFigure(before.get(k))).length;
  const only = [onlyA && `${members(onlyA)} only in A`, onlyB && `${members(onlyB)} only in B`].filter(Boolean);
  const also = groups.length > 0 && only.length > 0 ? ` ${only.join(', ')}.` : '';
  for (let row = 0; row < (b.values[0]?.length ?? 0); row++) {
    const [x, y] = [before.get(keys(b, row)), b.values[at]?.[row] as Value];
    if (typeof x !== 'number' || typeof y !== 'number') continue;
    const name = groups
      .map((g) =>
        rest >= 0 && b.values[rest]?.[row] === true
          ? allOthers
          : label(b.values[g]?.[row] as Value, b.columns[g] as Table['columns'][number]),
      )
      .join(', ');
    if (!largest || Math.abs(y - x) > Math.abs(largest.by)) largest = { text: name, by: y - x };
  }
  if (!largest) return `No member has a figure on both sides.${also}`;
  if (writeNumber(Math.abs(largest.by), format) === writeNumber(0, format))
    return also ? `Equal where both have a figure.${also}` : 'A and B are equal.';
  return groups.length === 0
    ? `B is ${write(largest.by)} against A.`
    : `Largest difference, B against A: ${largest.text} ${write(largest.by)}.${also}`;
}

/** In how many lines two tables of words differ: each cell is a text of several figures, of which no difference can be given. */
function wordsApart(a: Table, b: Table, keys: (table: Table, row: number) => string): string {
  const linesOf = (table: Table) =>
    new Map(
      (table.values[0] ?? []).map(
        (_, row) => [keys(table, row), JSON.stringify(table.values.map((v) => v[row]))] as const,
      ),
    );
  const [before, after] = [linesOf(a), linesOf(b)];
  const all = new Set([...before.keys(), ...after.keys()]);
  const apart = [...all].filter((k) => before.get(k) !== after.get(k)).length;
  return apart === 0 ? 'A and B are equal.' : `${apart} of ${all.size} lines differ.`;
}

const members = (n: number) => `${n} ${n === 1 ? 'member' : 'members'}`;
