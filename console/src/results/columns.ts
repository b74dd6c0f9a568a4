import type { ColumnInfo, Schemas, Value } from '../api/client';
import { formatOf, isWords, label } from '../model/labels';
import type { ColumnSort, LineFilter } from '../model/lines';
import { nextPeriod } from '../model/periods';

/** What lines have to meet in one column, as its kind of value lets one say it. */
export type ColumnFilter =
  | { of: 'text'; how: 'contains' | 'begins' | 'is'; text: string; members: string[] }
  | { of: 'number'; least?: number; most?: number }
  | { of: 'date'; from?: string; to?: string }
  | { of: 'flag'; is: boolean }
  | { of: 'missing' };

/** How a column is filtered: words and parts of dates as they are written. */
export function filterOf(column: ColumnInfo): 'text' | 'number' | 'date' | 'flag' {
  if (column.kind === 'boolean') return 'flag';
  if (column.kind === 'date' || column.kind === 'timestamp') return 'date';
  return isWords(column) || (column.at ?? null) !== null ? 'text' : 'number';
}

/** What a view keeps of a filter. */
export function keptFilter(column: string, filter: ColumnFilter): LineFilter {
  if (filter.of === 'missing') return { column, missing: true };
  if (filter.of === 'flag') return { column, flag: filter.is };
  if (filter.of === 'number') return { column, least: filter.least, most: filter.most };
  if (filter.of === 'date') return { column, from: filter.from, to: filter.to };
  if (filter.how === 'is') return { column, among: filter.members };
  return { column, [filter.how]: filter.text.trim() };
}

/** The filter that a view has kept of a column; none where that has values of another kind by now. */
export function filterKept(kept: LineFilter, column: ColumnInfo): ColumnFilter | undefined {
  if (kept.missing) return { of: 'missing' };
  const of = filterOf(column);
  const text = kept.contains ?? kept.begins ?? '';
  const filter: ColumnFilter =
    of === 'flag'
      ? { of, is: kept.flag === true }
      : of === 'number'
        ? { of, least: kept.least ?? undefined, most: kept.most ?? undefined }
        : of === 'date'
          ? { of, from: kept.from ?? undefined, to: kept.to ?? undefined }
          : { of, how: kept.among ? 'is' : kept.begins ? 'begins' : 'contains', text, members: kept.among ?? [] };
  return saysNothing(filter) || (of === 'flag' && (kept.flag ?? null) === null) ? undefined : filter;
}

/** The lines that meet what a view has kept, of those whose places in a result are given. */
export function meeting(
  columns: readonly ColumnInfo[],
  values: Value[][],
  kept: readonly LineFilter[],
  places: number[],
): number[] {
  const wanted = kept.flatMap((k) => {
    const at = columns.findIndex((c) => c.name === k.column);
    const column = columns[at];
    const filter = column && filterKept(k, column);
    return column && filter ? [{ at, column, filter }] : [];
  });
  return places.filter((row) =>
    wanted.every(({ at, column, filter }) => meets(filter, (values[at]?.[row] ?? null) as Value, column)),
  );
}

/** True if a filter says nothing. */
export const saysNothing = (filter: ColumnFilter): boolean =>
  (filter.of === 'text' && (filter.how === 'is' ? filter.members.length === 0 : filter.text.trim() === '')) ||
  (filter.of === 'number' && filter.least === undefined && filter.most === undefined) ||
  (filter.of === 'date' && !filter.from && !filter.to);

/** True if a value meets a filter. What is not given meets none but its own name. Numbers are meant as they are written: 25 for 25 %. */
export function meets(filter: ColumnFilter, value: Value, column: ColumnInfo): boolean {
  if (filter.of === 'missing') return value === null;
  if (filter.of === 'text') {
    const written = label(value, column);
    if (filter.how === 'is') return filter.members.includes(written);
    const [text, piece] = [written.toLowerCase(), filter.text.trim().toLowerCase()];
    return filter.how === 'begins' ? text.startsWith(piece) : text.includes(piece);
  }
  if (value === null) return false;
  if (filter.of === 'flag') return value === filter.is;
  if (filter.of === 'number') {
    // As it is written: 24.96 that stands there as 25.0 is 25.
    const { decimals, factor } = formatOf(column);
    const power = 10 ** Number(decimals);
    const shown = Math.round(Number(value) * Number(factor) * power) / power;
    return (filter.least === undefined || shown >= filter.least) && (filter.most === undefined || shown <= filter.most);
  }
  const day = String(value).slice(0, 10);
  return (!filter.from || day >= filter.from) && (!filter.to || day <= filter.to);
}

type Condition = Schemas['RowCondition'];
const dayAfter = (day: string) => nextPeriod(day, 'day')?.slice(0, 10) ?? day;

/**
 * What a filter says, as conditions for the service, where the rows are: the same rows meet them that would meet the filter here. That
 * a text is one of several can't be said so.
 */
export function conditionsOf(filter: ColumnFilter, column: ColumnInfo): Condition[] {
  const said = (is: string, value: string): Condition => ({ field: column.name, is, value });
  if (filter.of === 'missing') return [{ field: column.name, is: 'missing', value: null }];
  if (filter.of === 'flag') return [said('equal', String(filter.is))];
  if (filter.of === 'text') return [said(filter.how, filter.text.trim())];
  if (filter.of === 'date')
    return [
      ...(filter.from ? [said('least', filter.from)] : []),
      // A day is over when the next one begins.
      ...(filter.to ? [said('less', dayAfter(filter.to))] : []),
    ];
  // What is written rounds what is there: 25 % is from 24.5 %, included, to 25.5 %, excluded.
  const { decimals, factor } = formatOf(column);
  const power = 10 ** Number(decimals);
  const bound = (written: number, by: number) => (written / power + by / power) / Number(factor);
  const { least, most } = filter;
  const [low, high] = [
    least === undefined ? undefined : bound(Math.ceil(least * power - 1e-9), -0.5),
    most === undefined ? undefined : bound(Math.floor(most * power + 1e-9), 0.5),
  ];
  const isWhole = column.kind === 'integer';
  const plain = (v: number) => (isWhole ? String(Math.ceil(v)) : String(Number(v.toFixed(12))));
  return [
    ...(low === undefined ? [] : [said('least', plain(low))]),
    ...(high === undefined ? [] : [said('less', plain(high))]),
  ];
}

/** What lines are sorted by in a column: words by how they are read. What is not given comes last, whichever way. */
export const sortValue = (value: Value, column: ColumnInfo): Value | undefined =>
  value === null ? undefined : column.names ? label(value, column) : value;

/**
 * The lines of a result, by their places in it, sorted by some of its columns. What is missing comes last whichever way the order goes,
 * and last of all the rest of a top.
 */
export function inOrder(columns: readonly ColumnInfo[], values: Value[][], sorted: readonly ColumnSort[]): number[] {
  const all = Array.from({ length: values[0]?.length ?? 0 }, (_, i) => i);
  const keys = sorted.flatMap(({ column: name, descending }) => {
    const at = columns.findIndex((c) => c.name === name);
    const column = columns[at];
    return column ? [{ of: (values[at] ?? []).map((v) => sortValue(v, column)), sign: descending ? -1 : 1 }] : [];
  });
  if (keys.length === 0) return all;
  const rest = values[columns.findIndex((c) => c.role === 'rest')];
  return all.sort((a, b) => {
    const isRest = rest?.[a] === true;
    if (isRest !== (rest?.[b] === true)) return isRest ? 1 : -1;
    for (const { of, sign } of keys) {
      const [x, y] = [of[a] ?? null, of[b] ?? null];
      if (x === y) continue;
      if (x === null || y === null) return x === null ? 1 : -1;
      return (x < y ? -1 : 1) * sign;
    }
    return 0;
  });
}

/** A line of text for a spreadsheet: cells apart by tabs, breaks of lines left out. */
export const asLine = (cells: string[]): string => cells.map((c) => c.replace(/[\t\r\n]+/g, ' ')).join('\t');
