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
