/** A time in UTC, by the clock of whoever reads it. */
export const whenOf = (utc: string): string =>
  new Date(utc).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
