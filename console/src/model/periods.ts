/** The beginning of the period after one; null if the grain is none. */
export function nextPeriod(start: string, grain: string): string | null {
  const far = new Date(`${start.slice(0, 10)}T00:00:00Z`);
  far.setUTCFullYear(far.getUTCFullYear() + 2);
  const end = start.length > 10 ? `${far.toISOString().slice(0, 10)}T00:00:00` : far.toISOString().slice(0, 10);
  return periodsBetween(start, end, grain, 20_000)?.[1] ?? null;
}

/** All periods of a grain from one to another, so that a period without rows is a gap and not left out. */
export function periodsBetween(from: string, to: string, grain: string, most = 3000): string[] | null {
  const list: string[] = [];
  const hours = from.length > 10;
  const at = new Date(`${hours ? from : `${from}T00:00:00`}Z`);
  const end = new Date(`${hours ? to : `${to}T00:00:00`}Z`);
  while (at <= end) {
    if (list.length >= most) return null;
    const iso = at.toISOString();
    list.push(hours ? iso.slice(0, 19) : iso.slice(0, 10));
    switch (grain) {
      case 'year':
        at.setUTCFullYear(at.getUTCFullYear() + 1);
        break;
      case 'quarter':
        at.setUTCMonth(at.getUTCMonth() + 3);
        break;
      case 'month':
        at.setUTCMonth(at.getUTCMonth() + 1);
        break;
      case 'week':
        at.setUTCDate(at.getUTCDate() + 7);
        break;
      case 'day':
        at.setUTCDate(at.getUTCDate() + 1);
        break;
      case 'hour':
        at.setUTCHours(at.getUTCHours() + 1);
        break;
      default:
        return null;
    }
  }
  return list;
}
