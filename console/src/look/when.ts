/** A time in UTC, by the clock of whoever reads it. */
export const whenOf = (utc: string): string =>
  new Date(utc).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

/** A moment as people in a zone say it: Mon, 30 Nov, 08:30. */
export const timeIn = (zone: string, at: string): string =>
  new Intl.DateTimeFormat('en-GB', {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    timeZone: zone,
  }).format(new Date(at));
