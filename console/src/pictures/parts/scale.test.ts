import { describe, expect, test } from 'vitest';
import { coarsened, scaleOf, stackedEnds } from './scale';

describe('The axis of figures', () => {
  test('has round steps from nothing to beyond the greatest', () => {
    expect(scaleOf([3, 870, null], 4)).toEqual({ min: 0, max: 1000, interval: 200 });
    expect(scaleOf([-0.12, 0.31], 4)).toEqual({ min: -0.2, max: 0.4, interval: 0.1 });
    expect(scaleOf([], 4)).toEqual({ min: 0, max: 1, interval: 1 });
  });
  test('holds every figure, in few steps, whatever the figures are', () => {
    let seed = 3;
    const random = () => {
      seed = (seed * 1103515245 + 12345) % 2147483648;
      return seed / 2147483648;
    };
    for (let i = 0; i < 5000; i++) {
      const size = 10 ** (random() * 30 - 15);
      const figures = Array.from({ length: 5 }, () => (random() - (i % 3 === 0 ? 0.5 : 0)) * size);
      const { min, max, interval } = scaleOf(figures, 2 + (i % 5));
      expect(min).toBeLessThanOrEqual(Math.min(0, ...figures));
      expect(max).toBeGreaterThanOrEqual(Math.max(0, ...figures));
      const steps = (max - min) / interval;
      expect(Math.abs(steps - Math.round(steps))).toBeLessThan(1e-6);
      expect(steps).toBeLessThan(13);
    }
  });
  test('of parts on one another reaches to their sums', () => {
    expect(stackedEnds([{ values: [1, -2] }, { values: [3, -1] }, { values: [null, 4] }])).toEqual([4, 0, 4, -3]);
  });
});

test('A scale that was made longer has about as many steps as were wanted, and all that it had', () => {
  expect(coarsened({ min: 0, max: 40, interval: 10 }, 3)).toEqual({ min: 0, max: 40, interval: 10 });
  for (const max of [60, 90, 500, 1230]) {
    const { interval, ...ends } = coarsened({ min: -20, max, interval: 10 }, 3);
    expect((ends.max - ends.min) / interval).toBeLessThanOrEqual(7);
    expect([ends.min <= -20, ends.max >= max]).toEqual([true, true]);
    expect([ends.min / interval, ends.max / interval].every(Number.isInteger)).toBe(true);
  }
});
