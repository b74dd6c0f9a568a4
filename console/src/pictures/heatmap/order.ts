import type { Value } from '../../api/client';

type Figure = number | null | undefined;

const meanOf = (figures: Figure[]) => {
  const known = figures.filter((f): f is number => typeof f === 'number');
  return known.length === 0 ? Number.NEGATIVE_INFINITY : known.reduce((sum, f) => sum + f, 0) / known.length;
};

/** How unlike two lines of figures are: the mean square of their differences where both are known. */
function distance(one: Figure[], two: Figure[]): number {
  let [sum, count] = [0, 0];
  one.forEach((a, i) => {
    const b = two[i];
    if (typeof a !== 'number' || typeof b !== 'number') return;
    sum += (a - b) ** 2;
    count++;
  });
  return count === 0 ? Number.POSITIVE_INFINITY : sum / count;
}

/** More members than this are not put side by side by likeness: every pair is compared. */
const most = 300;

/**
 * The order in which like lines stand beside one another: from the one with the greatest mean always to the nearest that is left,
 * then parts are turned round as long as that brings neighbours nearer (2-opt).
 */
function byLikeness(lines: Figure[][]): number[] {
  const far = lines.map((a) => lines.map((b) => distance(a, b)));
  const between = (a: number | undefined, b: number | undefined) =>
    a === undefined || b === undefined ? 0 : Math.min(far[a]?.[b] ?? 0, Number.MAX_VALUE / 1e6);
  const left = new Set(lines.keys());
  const means = lines.map(meanOf);
  const order: number[] = [];
  while (left.size > 0) {
    const last = order[order.length - 1];
    let next: number | undefined;
    for (const i of left)
      if (
        next === undefined ||
        (last === undefined ? (means[i] ?? 0) > (means[next] ?? 0) : between(last, i) < between(last, next))
      )
        next = i;
    if (next === undefined) break;
    order.push(next);
    left.delete(next);
  }
  // Bounded: each turn makes the whole shorter, but with many lines the last turns are small.
  for (let round = 0, better = true; better && round < 20; round++) {
    better = false;
    for (let i = 0; i < order.length - 1; i++)
      for (let j = i + 1; j < order.length; j++) {
        const before = between(order[i - 1], order[i]) + between(order[j], order[j + 1]);
        const after = between(order[i - 1], order[j]) + between(order[i], order[j + 1]);
        if (after >= before - 1e-12) continue;
        order.splice(i, j - i + 1, ...order.slice(i, j + 1).reverse());
        better = true;
      }
  }
  return order;
}

/**
 * The members of both axes of a matrix in the order that its tile wants. Dates and numbers stay in theirs.
 * @param by value: the greatest mean first; likeness: like ones side by side; else as they are.
 * @param words Of which axis members are words, down and across.
 */
export function ordered(
  down: Value[],
  across: Value[],
  by: string | undefined,
  words: [down: boolean, across: boolean],
  figure: (down: Value, across: Value) => Figure,
): [down: Value[], across: Value[]] {
  const put = (members: Value[], isWords: boolean, line: (m: Value) => Figure[]) => {
    if (!isWords || (by !== 'value' && (by !== 'likeness' || members.length > most))) return members;
    const lines = members.map(line);
    if (by === 'value') {
      const means = lines.map(meanOf);
      return [...members.keys()].sort((a, b) => (means[b] ?? 0) - (means[a] ?? 0)).map((i) => members[i] ?? null);
    }
    return byLikeness(lines).map((i) => members[i] ?? null);
  };
  return [
    put(down, words[0], (m) => across.map((x) => figure(m, x))),
    put(across, words[1], (m) => down.map((y) => figure(y, m))),
  ];
}
