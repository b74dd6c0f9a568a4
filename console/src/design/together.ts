/** Lines that are others, and what stands in their place. */
interface Change {
  from: number;
  /** The first line after them, as it was. */
  to: number;
  lines: string[];
}

/** From the first line that is another to the last. */
function changeOf(before: string[], after: string[]): Change {
  const least = Math.min(before.length, after.length);
  let from = 0;
  while (from < least && before[from] === after[from]) from++;
  let same = 0;
  while (same < least - from && before.at(-1 - same) === after.at(-1 - same)) same++;
  return { from, to: before.length - same, lines: after.slice(from, after.length - same) };
}

/**
 * What two made of one text, put together.
 * @param origin The text from which both began.
 * @returns undefined where both changed the same lines, or lines that touch: whose stay is not for a machine to say.
 */
export function together(origin: string, theirs: string, mine: string): string | undefined {
  if (theirs === origin || theirs === mine) return mine;
  if (mine === origin) return theirs;
  const lines = origin.split('\n');
  const [one, other] = [changeOf(lines, theirs.split('\n')), changeOf(lines, mine.split('\n'))];
  const [first, second] = one.from < other.from ? [one, other] : [other, one];
  if (second.from <= first.to) return undefined;
  return [
    ...lines.slice(0, first.from),
    ...first.lines,
    ...lines.slice(first.to, second.from),
    ...second.lines,
    ...lines.slice(second.to),
  ].join('\n');
}
