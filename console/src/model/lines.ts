import type { Schemas, TableColumns } from '../api/client';

export type ColumnSort = Schemas['ColumnSort'];
export type LineFilter = Schemas['LineFilter'];

/** How the lines of a table are sorted, the first before the second, and what they have to meet. */
export interface Lines {
  sorted: ColumnSort[];
  filters: LineFilter[];
}

const none: Lines = { sorted: [], filters: [] };

/** The lines as a view keeps them. */
export const linesOf = (table: Pick<TableColumns, keyof Lines> | null | undefined): Lines =>
  table ? { sorted: table.sorted ?? none.sorted, filters: table.filters ?? none.filters } : none;

/** What is said of a column, without what is not. */
const said = (part: ColumnSort | LineFilter) =>
  JSON.stringify(
    Object.entries(part)
      .filter(([, value]) => (value ?? null) !== null)
      .sort(([a], [b]) => (a < b ? -1 : 1)),
  );

const same = (one: (ColumnSort | LineFilter)[], other: (ColumnSort | LineFilter)[]) =>
  one === other ||
  (one.length === other.length && one.every((part, i) => said(part) === said(other[i] as typeof part)));

export const areSortedAlike = (one: Lines, other: Lines) => same(one.sorted, other.sorted);
export const areFilteredAlike = (one: Lines, other: Lines) => same(one.filters, other.filters);
export const areAlike = (one: Lines, other: Lines) => areSortedAlike(one, other) && areFilteredAlike(one, other);

/** What the visit says of lines, with a part said anew; what the view has so is not said again, and nothing at all if that is all. */
export function visitWith(visit: Partial<Lines> | undefined, part: Partial<Lines>, ofView: Lines) {
  const next = { ...visit, ...part };
  if (next.sorted && same(next.sorted, ofView.sorted)) delete next.sorted;
  if (next.filters && same(next.filters, ofView.filters)) delete next.filters;
  return next.sorted || next.filters ? next : undefined;
}

/** The columns of a table as they stand, with its lines in another way; null where nothing is said of either. */
export function withLines(table: TableColumns | null, lines: Lines): TableColumns | null {
  const next = { ...table, ...lines };
  return Object.values(next).some((part) => (part ?? []).length > 0) ? next : null;
}

/** What is done to the lines, in words: "sorted by Income ↓, filtered by Port". */
export function linesInWords({ sorted, filters }: Lines, titleOf: (column: string) => string): string {
  const order = sorted.map(
    (s) => `${titleOf(s.column)}${(s.under ?? null) === null ? '' : ` of ${s.under}`} ${s.descending ? '↓' : '↑'}`,
  );
  return [
    ...(order.length > 0 ? [`sorted by ${order.join(', ')}`] : []),
    ...(filters.length > 0 ? [`filtered by ${filters.map((f) => titleOf(f.column)).join(', ')}`] : []),
  ].join(', ');
}
