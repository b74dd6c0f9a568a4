import type { Value } from '../api/client';

/** The part of an axis of dates or numbers that is shown, by its first and last member; null for the end of the axis, wherever it comes to lie. */
export interface AxisWindow {
  from: Value;
  to: Value;
}

/** The fewest members that are shown. */
const least = 2;

/** The places of the first and last member shown; at least two of them, where there are so many. */
export function placesIn({ from, to }: AxisWindow, members: readonly Value[]): [number, number] {
  const last = members.length - 1;
  const reaches = (m: Value, end: Value) => m !== null && end !== null && typeof m === typeof end && m >= end;
  const first = from === null ? 0 : members.findIndex((m) => reaches(m, from));
  const beyond = to === null ? -1 : members.findIndex((m) => reaches(m, to));
  const end = beyond < 0 ? last : members[beyond] === to ? beyond : beyond - 1;
  return widened([first < 0 ? last : first, end], members.length);
}

/** The window between two places. */
export const windowAt = (members: readonly Value[], [first, last]: [number, number]): AxisWindow => ({
  from: first <= 0 ? null : (members[first] ?? null),
  to: last >= members.length - 1 ? null : (members[last] ?? null),
});

/** The places with others around them, so that enough is shown. */
function widened([first, last]: [number, number], count: number): [number, number] {
  const to = Math.max(0, Math.min(count - 1, last));
  const from = Math.max(0, Math.min(first, to));
  const wanted = Math.min(least, count);
  if (to - from + 1 >= wanted) return [from, to];
  return from + wanted <= count ? [from, from + wanted - 1] : [count - wanted, count - 1];
}

/** The places moved by some members, as far as there are any. */
export function moved([first, last]: [number, number], by: number, count: number): [number, number] {
  const step = Math.max(-first, Math.min(count - 1 - last, by));
  return [first + step, last + step];
}

/**
 * The places after zooming in or out around one of them.
 * @param factor How many times as much is shown: less than 1 to see less of it, larger.
 */
export function zoomed(
  [first, last]: [number, number],
  around: number,
  factor: number,
  count: number,
): [number, number] {
  const wide = last - first + 1;
  // At least by one member, so that every turn of the wheel is seen.
  const wished =
    factor < 1 ? Math.min(wide - 1, Math.round(wide * factor)) : Math.max(wide + 1, Math.round(wide * factor));
  const next = Math.max(Math.min(least, count), Math.min(count, wished));
  const share = wide <= 1 ? 0.5 : (around - first) / (wide - 1);
  const from = Math.max(0, Math.min(count - next, Math.round(around - share * (next - 1))));
  return [from, from + next - 1];
}
