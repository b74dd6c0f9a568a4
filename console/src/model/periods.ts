/** Moves an instant to the beginning of the next period; false if the grain is none. */
function step(at: Date, grain: string): boolean {
  switch (grain) {
    case 'year':
      at.setUTCFullYear(at.getUTCFullYear() + 1);
      return true;
    case 'quarter':
      at.setUTCMonth(at.getUTCMonth() + 3);
      return true;
    case 'month':
      at.setUTCMonth(at.getUTCMonth() + 1);
      return true;
    case 'week':
      at.setUTCDate(at.getUTCDate() + 7);
      return true;
    case 'day':
      at.setUTCDate(at.getUTCDate() + 1);
      return true;
    case 'hour':
      at.setUTCHours(at.getUTCHours() + 1);
      return true;
    default:
      return false;
  }
}

/** Hours stand with their time of day, longer periods as days. */
const instantOf = (text: string) => new Date(`${text.length > 10 ? text : `${text}T00:00:00`}Z`);
const write = (at: Date, hasTime: boolean) => at.toISOString().slice(0, hasTime ? 19 : 10);

/** The beginning of the period after one; null if the grain is none. */
export function nextPeriod(start: string, grain: string): string | null {
  const at = instantOf(start);
  return step(at, grain) ? write(at, start.length > 10) : null;
}

/** All periods of a grain from one to another, so that a period without rows is a gap and not left out. */
export function periodsBetween(from: string, to: string, grain: string, most = 3000): string[] | null {
  const list: string[] = [];
  const hasTime = from.length > 10;
  const at = instantOf(from);
  const end = instantOf(to);
  while (at <= end) {
    if (list.length >= most) return null;
    list.push(write(at, hasTime));
    if (!step(at, grain)) return null;
  }
  return list;
}

/** True if members at a grain or part of a date name years. */
export const areYears = (at: string | null | undefined): boolean => at?.startsWith('year') === true;

/**
 * Of several fields the place of the one that names a period together with the first: a year beside a part of the year, or the other
 * way; -1 if there is none.
 */
export const besideOf = (first: string | null | undefined, others: readonly (string | null | undefined)[]): number =>
  others.findIndex((at) => (areYears(first) ? /_of_year$/.test(at ?? '') : areYears(at)));
