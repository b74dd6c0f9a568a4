import { expect, test } from 'vitest';
import { moved, placesIn, windowAt, zoomed } from './window';

const days = ['2025-01-01', '2025-01-02', '2025-01-03', '2025-01-04', '2025-01-05'];

test('A window keeps its ends by what they are, follows the end of the axis, and never shows less than two members', () => {
  expect(placesIn({ from: '2025-01-02', to: '2025-01-03' }, days)).toEqual([1, 2]);
  // The first of these came out of the data, the axis has grown since.
  expect(placesIn({ from: '2025-01-02', to: null }, ['2025-01-03', ...days.slice(3), '2025-01-06'])).toEqual([0, 3]);
  expect(placesIn({ from: '2026-01-01', to: null }, days)).toEqual([3, 4]);
  expect(placesIn({ from: null, to: '2024-01-01' }, days)).toEqual([0, 1]);
  expect(placesIn({ from: 3, to: 4 }, [1, 2, 3, 4, null])).toEqual([2, 3]);
  expect(placesIn({ from: null, to: null }, ['2025-01-01'])).toEqual([0, 0]);
});

test('Whatever is moved and zoomed, a window lies within its axis, and zooming in and out shows less and more', () => {
  let seed = 7;
  const below = (n: number) => {
    seed = (seed * 1103515245 + 12345) % 2147483648;
    return Math.floor((seed / 2147483648) * n);
  };
  for (let run = 0; run < 5000; run++) {
    const count = 3 + below(run % 2 === 0 ? 4 : 500);
    const from = below(count - 1);
    const shown: [number, number] = [from, from + 1 + below(count - from - 1)];
    const isWithin = ([a, b]: [number, number]) => a >= 0 && b < count && b > a;
    const step = moved(shown, below(1200) - 600, count);
    expect(isWithin(step)).toBe(true);
    expect(step[1] - step[0]).toBe(shown[1] - shown[0]);
    const around = shown[0] + (below(101) / 100) * (shown[1] - shown[0]);
    const near = zoomed(shown, around, 0.8, count);
    const far = zoomed(shown, around, 1.25, count);
    expect(isWithin(near) && isWithin(far)).toBe(true);
    expect(near[1] - near[0] < shown[1] - shown[0] || shown[1] - shown[0] === 1).toBe(true);
    expect(far[1] - far[0] > shown[1] - shown[0] || far[1] - far[0] === count - 1).toBe(true);
    const members = Array.from({ length: count }, (_, i) => i);
    expect(placesIn(windowAt(members, shown), members)).toEqual(shown);
  }
});
