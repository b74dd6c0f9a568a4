const months = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/** A day as it is typed: 3 Feb 2025, 3 February 2025 or 2025-02-03; null for what is none. */
export function readDay(text: string): string | null {
  const iso = /^\s*([12]\d{3})-(\d\d?)-(\d\d?)\s*$/.exec(text);
  const words = /^\s*(\d\d?)\.?\s+([a-z]{3})[a-z]*\.?,?\s+([12]\d{3})\s*$/i.exec(text);
  const [year, month, day] = iso
    ? [iso[1], iso[2], iso[3]]
    : words
      ? [words[3], `${months.indexOf((words[2] ?? '').toLowerCase()) + 1}`, words[1]]
      : [];
  if (!year || !month || !day) return null;
  const written = `${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`;
  // 30 Feb is none: a day that is comes back as it was.
  const at = new Date(`${written}T00:00:00Z`);
  return !Number.isNaN(at.getTime()) && at.toISOString().startsWith(written) ? written : null;
}
