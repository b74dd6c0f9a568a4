import type { ColumnInfo, Value } from '../../api/client';
import { formatOf, isWords, label } from '../../model/labels';

/** What lines have to meet in one column, as its kind of value lets one say it. */
export type ColumnFilter =
  | { of: 'text'; how: 'contains' | 'begins' | 'is'; text: string; members: string[] }
  | { of: 'number'; least?: number; most?: number }
  | { of: 'date'; from?: string; to?: string }
  | { of: 'flag'; is: boolean };

/** How a column is filtered: words and parts of dates as they are written. */
export function filterOf(column: ColumnInfo): ColumnFilter['of'] {
  if (column.kind === 'boolean') return 'flag';
  if (column.kind === 'date' || column.kind === 'timestamp') return 'date';
  return isWords(column) || (column.at ?? null) !== null ? 'text' : 'number';
}

/** True if a filter says nothing. */
export const saysNothing = (filter: ColumnFilter): boolean =>
  (filter.of === 'text' && (filter.how === 'is' ? filter.members.length === 0 : filter.text.trim() === '')) ||
  (filter.of === 'number' && filter.least === undefined && filter.most === undefined) ||
  (filter.of === 'date' && !filter.from && !filter.to);

/** True if a value meets a filter. What is not given meets none but its own name. Numbers are meant as they are written: 25 for 25 %. */
export function meets(filter: ColumnFilter, value: Value, column: ColumnInfo): boolean {
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

/** What lines are sorted by in a column: words by how they are read. What is not given comes last, whichever way. */
export const sortValue = (value: Value, column: ColumnInfo): Value | undefined =>
  value === null ? undefined : column.names ? label(value, column) : value;

/** A line of text for a spreadsheet: cells apart by tabs, breaks of lines left out. */
export const asLine = (cells: string[]): string => cells.map((c) => c.replace(/[\t\r\n]+/g, ' ')).join('\t');
