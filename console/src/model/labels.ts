import type { ColumnInfo, FormatInfo, Value } from '../api/client';

/** What stands for a missing member. */
export const notGiven = 'not given';
/** What stands for the rest of a top N. */
export const allOthers = 'all others';

const days = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const longDays = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
const longMonths = ['January', 'February', 'March', 'April', 'May', 'June', 'July'].concat([
  'August',
  'September',
  'October',
  'November',
  'December',
]);
const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** Writers of numbers by their decimals: making one takes longer than a hundred numbers do. */
const writers = new Map<string, Intl.NumberFormat>();

function writer(least: number, most: number, marks = true): Intl.NumberFormat {
  const key = `${least} ${most} ${marks}`;
  const known =
    writers.get(key) ??
    new Intl.NumberFormat('en-US', { minimumFractionDigits: least, maximumFractionDigits: most, useGrouping: marks });
  writers.set(key, known);
  return known;
}

/** How a number is written, as far as it matters to who writes it. */
export type Written = Pick<FormatInfo, 'decimals' | 'factor' | 'unit'> & Partial<FormatInfo>;

function withUnit(text: string, sign: string, { unit, unitFirst }: Written): string {
  if (!unit) return sign + text;
  return unitFirst ? `${sign}${unit}${unit.length > 1 ? ' ' : ''}${text}` : `${sign}${text} ${unit}`;
}

/** A size and the mark of its short form. */
const shortened = (size: number): [number, string] =>
  size >= 999_500_000 ? [1e9, ' bn'] : size >= 999_500 ? [1e6, ' m'] : size >= 10_000 ? [1e3, ' k'] : [1, ''];

/** A number with thousands marks, a true minus and its unit. The service writes them the same way: see label-cases.json. */
export function writeNumber(value: number, format: Written): string {
  const scaled = value * Number(format.factor);
  const decimals = Number(format.decimals);
  const [divisor, mark] = format.short ? shortened(Math.abs(scaled)) : [1, ''];
  const rounded = roundHalfAway(Math.abs(scaled) / divisor, decimals);
  const text = writer(format.short ? 0 : decimals, decimals, format.marks !== false).format(rounded) + mark;
  return withUnit(text, scaled < 0 && rounded !== 0 ? '\u2212' : '', format);
}

function roundHalfAway(value: number, decimals: number): number {
  // By way of the decimal text: 1.005 must round as it is written, not as it is stored.
  const [digits = '0', exponent = '0'] = String(value).split('e');
  const shifted = Math.round(Number(`${digits}e${Number(exponent) + decimals}`));
  return Number(`${shifted}e-${decimals}`);
}

type LabelColumn = Pick<ColumnInfo, 'role' | 'kind'> &
  Partial<Pick<ColumnInfo, 'at' | 'names' | 'pattern' | 'edges'>> & { format?: Written | null };

/** True if members are read as words: texts, and codes or keys that have names. */
export const isWords = (column: Pick<LabelColumn, 'kind' | 'names'>): boolean =>
  column.kind === 'text' || (column.names ?? null) !== null;

/** How a number of a column is written where no format was given. */
export function formatOf(column: Pick<LabelColumn, 'kind' | 'format'>): Written {
  return column.format ?? { decimals: column.kind === 'integer' ? 0 : 2, factor: 1, unit: '' };
}

/** A value as text. A missing member is "not given", a missing figure a dash. */
export function label(value: Value | undefined, column: LabelColumn): string {
  if (value === null || value === undefined) return column.role === 'group' ? notGiven : '–';
  const name = column.names?.[String(value)];
  if (name !== undefined) return name;
  const place = column.edges?.indexOf(value) ?? -1;
  if (column.edges && place >= 0 && place + 1 < column.edges.length) {
    const start = { ...column, edges: null, format: column.format && { ...column.format, unit: '' } };
    return `${label(value, start)} to ${label(column.edges[place + 1] as Value, { ...column, edges: null })}`;
  }
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'string') {
    if (column.kind === 'date' || column.kind === 'timestamp')
      return column.pattern ? writeAs(value, column.pattern) : writeDate(value, column.at ?? null, column.kind);
    return value === '' ? '(empty)' : value;
  }
  switch (column.at) {
    case 'day_of_week':
      return days[value - 1] ?? String(value);
    case 'month_of_year':
      return months[value - 1] ?? String(value);
    case 'quarter_of_year':
      return `Q${value}`;
    case 'hour_of_day':
      return `${String(value).padStart(2, '0')}:00`;
    case 'day_of_month':
    case 'year_number':
      return String(value);
    default:
      return writeNumber(value, formatOf(column));
  }
}

/** A figure without its unit, where the unit stands in the heading. */
export function bareNumber(value: Value | undefined, column: LabelColumn): string {
  return label(value, column.format ? { ...column, format: { ...column.format, unit: '' } } : column);
}

/**
 * A short form where space is short: 12.4 k lt.
 * @param decimals The most digits behind the point; on an axis as many as tell its ticks apart.
 */
export function shortNumber(value: number, format: Written, decimals = 1): string {
  const scaled = Math.abs(value * Number(format.factor));
  const [divisor, mark] = format.marks === false ? [1, ''] : shortened(scaled);
  const size = scaled / divisor;
  const text = writer(0, size < 100 ? decimals : 0, format.marks !== false).format(size);
  // What rounds to nothing has no sign.
  return withUnit(`${text}${mark}`, value < 0 && /[1-9]/.test(text) ? '\u2212' : '', format);
}

function writeDate(text: string, at: string | null, kind: string): string {
  const year = text.slice(0, 4);
  const month = Number(text.slice(5, 7));
  const day = Number(text.slice(8, 10));
  const time = text.length > 10 ? text.slice(11, 16) : '00:00';
  const date = `${day} ${months[month - 1]} ${year}`;
  switch (at) {
    case 'year':
      return year;
    case 'quarter':
      return `Q${Math.floor((month - 1) / 3) + 1} ${year}`;
    case 'month':
      return `${months[month - 1]} ${year}`;
    case 'week':
      return `week of ${date}`;
    case 'hour':
      return `${date} ${time}`;
    default:
      return kind === 'timestamp' ? `${date} ${time}` : date;
  }
}

/** A date in a pattern of Unicode's letters; the service writes the same, see label-cases.json. */
function writeAs(text: string, pattern: string): string {
  const [year = '', month = '', day = ''] = text.slice(0, 10).split('-');
  const [hour = '00', minute = '00', second = '00'] = text.slice(11).split(':');
  const weekday = (new Date(`${text.slice(0, 10)}T00:00:00Z`).getUTCDay() + 6) % 7;
  const parts: Record<string, string | undefined> = {
    yyyy: year,
    yy: year.slice(2),
    MMMM: longMonths[Number(month) - 1],
    MMM: months[Number(month) - 1],
    MM: month,
    M: String(Number(month)),
    dd: day,
    d: String(Number(day)),
    EEEE: longDays[weekday],
    EEE: days[weekday],
    HH: hour,
    H: String(Number(hour)),
    mm: minute,
    ss: second,
  };
  return pattern.replace(/'((?:[^']|'')*)'|([A-Za-z])\2*/g, (piece, quoted: string | undefined) =>
    quoted === undefined ? (parts[piece] ?? piece) : quoted === '' ? "'" : quoted.replaceAll("''", "'"),
  );
}
