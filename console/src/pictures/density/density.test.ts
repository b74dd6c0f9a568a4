import { expect, test } from 'vitest';
import { column, input } from '../parts/testing';
import { draw, ticksAlong } from './draw';

const given = (more: Parameters<typeof input>[3] = {}) =>
  input(
    'density',
    [
      column('delay', 'group', 'integer'),
      column('class', 'group', 'text'),
      column('density', 'figure', 'float'),
      column('bandwidth', 'tip', 'float'),
      column('values', 'tip', 'integer'),
    ],
    [
      [-2, 0, 2, -2, 0, 2],
      ['a', 'a', 'a', 'b', 'b', 'b'],
      [0.1, 0.3, 0.1, 0.2, 0.2, 0.2],
      [1.5, 1.5, 1.5, 2.25, 2.25, 2.25],
      [1200, 1200, 1200, 34, 34, 34],
    ],
    more,
  );

test('A curve says what it is estimated from and with what bandwidth, and looks estimated', () => {
  const made = draw(given());
  expect(made.note).toBe(
    'Estimated: Gaussian kernel over 1,234 values; bandwidth 1.50 to 2.25; standard errors in the tips.',
  );
  expect((made.option.series as { lineStyle: { type: unknown } }[]).map((s) => s.lineStyle.type)).toEqual([
    [6, 3],
    [6, 3],
  ]);
  expect(made.along?.members).toEqual([-2, 0, 2]);
  expect(draw(given({ table: { columns: [], values: [] } })).marks).toEqual([]);
});

test('Ticks stand at round numbers, each at the point that is nearest', () => {
  const points = Array.from({ length: 161 }, (_, i) => -11.7 + (i * 109.4) / 160);
  const ticks = ticksAlong(points, 6);
  for (const [place, at] of ticks) {
    expect(Math.abs((points[place] ?? 0) - at)).toBeLessThan(109.4 / 160);
    expect(at % 20).toBeCloseTo(0);
  }
  expect([...ticks.values()]).toEqual([0, 20, 40, 60, 80]);
});
