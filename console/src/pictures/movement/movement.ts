import type { ColumnInfo, TileResult, Value } from '../../api/client';

/** Pairs of states as a table: those at first down, the later ones across. */
export interface Moved {
  from: ColumnInfo;
  to: ColumnInfo;
  subjects: ColumnInfo;
  first: Value[];
  later: Value[];
  /** For each state at first and each later one how many subjects; null for none. */
  cells: (number | null)[][];
  ofFirst: number[];
  ofLater: number[];
}

/** Lines of a state at first, a later one and how many subjects; those that were not seen again come last. */
export function movementOf({ columns, values }: NonNullable<TileResult['table']>): Moved | undefined {
  const [from, to, subjects] = columns;
  const [starts, ends, counts] = values;
  if (!from || !to || !subjects || !starts || !ends || !counts) return undefined;
  const first = [...new Set(starts)];
  // In the order of the states at first, and what is only reached later where it comes first among the lines.
  const reached = new Set(ends);
  const later = [...new Set([...first, ...ends])].filter((s) => s !== null && reached.has(s));
  if (reached.has(null)) later.push(null);
  const cells = first.map((s) =>
    later.map((e) => {
      const row = starts.findIndex((start, i) => start === s && ends[i] === e);
      return row < 0 ? null : Number(counts[row]);
    }),
  );
  const sum = (of: (number | null)[]) => of.reduce<number>((all, n) => all + (n ?? 0), 0);
  return {
    from,
    to,
    subjects,
    first,
    later,
    cells,
    ofFirst: cells.map(sum),
    ofLater: later.map((_, i) => sum(cells.map((row) => row[i] ?? null))),
  };
}
