import { isPeriod } from './parameters';
import type { PickedRange, Selection } from './selections';

/**
 * The days or hours that a period spans, as a selection has them; undefined for all time and for what is none. The service works
 * it out the same way: see tests/period-cases.json.
 * @param now The time of viewing in the viewer's own zone, as an ISO text without a zone.
 */
export function periodSpan(text: string, now: string, weekStarts: string): PickedRange | undefined {
  const words = text.trim().toLowerCase();
  if (!isPeriod(text) || words === 'all time') return undefined;
  const at = new Date(`${now.slice(0, 19)}Z`);
  const day = (d: Date) => d.toISOString().slice(0, 10);
  const tomorrow = moved(floored(at, 'day', weekStarts), 'day', 1);
  const fixed = /^(\S+) to (\d\S+)$/.exec(words);
  if (fixed) return { from: fixed[1] ?? null, to: day(moved(new Date(`${fixed[2]}T00:00:00Z`), 'day', 1)) };
  const last = /^last (\d+) ([a-z]+?)s?$/.exec(words);
  if (last) {
    const [count, grain] = [Number(last[1]), last[2] ?? 'day'];
    const hours = grain === 'hour';
    const end = hours ? moved(floored(at, 'hour', weekStarts), 'hour', 1) : tomorrow;
    const start = moved(end, grain, -count);
    return {
      from: hours ? start.toISOString().slice(0, 19) : day(start),
      to: hours ? end.toISOString().slice(0, 19) : day(end),
    };
  }
  const one = /^(this|previous) ([a-z]+)( to date)?$/.exec(words);
  const grain = one?.[2] ?? 'day';
  const offset = words === 'yesterday' || one?.[1] === 'previous' ? -1 : 0;
  const start = moved(floored(at, grain, weekStarts), grain, offset);
  return { from: day(start), to: day(one?.[3] ? tomorrow : moved(start, grain, 1)) };
}

const weekdays = ['sunday', 'monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday'];

/** The beginning of the period in which an instant lies. */
function floored(at: Date, grain: string, weekStarts: string): Date {
  const result = new Date(at);
  result.setUTCMinutes(0, 0, 0);
  if (grain === 'hour') return result;
  result.setUTCHours(0);
  if (grain === 'week')
    result.setUTCDate(result.getUTCDate() - ((result.getUTCDay() - weekdays.indexOf(weekStarts) + 7) % 7));
  if (['month', 'quarter', 'year'].includes(grain)) result.setUTCDate(1);
  if (grain === 'quarter') result.setUTCMonth(Math.floor(result.getUTCMonth() / 3) * 3);
  if (grain === 'year') result.setUTCMonth(0);
  return result;
}

/** So many periods on; the last day of a month where it has no such day. */
function moved(at: Date, grain: string, count: number): Date {
  const result = new Date(at);
  const months = { month: 1, quarter: 3, year: 12 }[grain];
  if (months) {
    result.setUTCDate(1);
    result.setUTCMonth(result.getUTCMonth() + months * count);
    const most = new Date(Date.UTC(result.getUTCFullYear(), result.getUTCMonth() + 1, 0)).getUTCDate();
    result.setUTCDate(Math.min(at.getUTCDate(), most));
  } else result.setTime(at.getTime() + count * ({ hour: 1, day: 24, week: 168 }[grain] ?? 0) * 3_600_000);
  return result;
}

/** The time of viewing in the viewer's zone, as a text without a zone. */
export const localNow = (): string => {
  const now = new Date();
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 19);
};

/** The range that is picked, that of a named period as it is now; undefined if none is. */
export const rangeNow = (selection: Selection | undefined, weekStarts: string): PickedRange | undefined =>
  selection?.period === undefined ? selection?.range : periodSpan(selection.period, localNow(), weekStarts);
