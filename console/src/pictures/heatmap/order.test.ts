import { expect, test } from 'vitest';
import { ordered } from './order';

const of = (n: number, mix: number) => Array.from({ length: n }, (_, i) => `m${(i * mix) % n}`);
const place = (m: unknown) => Number(String(m).slice(1));

test('Members that are alike stand side by side, whatever their order was', () => {
  // Near the diagonal figures are great: the only way that neighbours are alike is the order of places, or that turned round.
  for (const mix of [3, 5, 7, 11]) {
    const [down, across] = ordered(
      of(17, mix),
      of(13, mix),
      'likeness',
      [true, true],
      (y, x) => 100 - (place(y) / 17 - place(x) / 13) ** 2 * 100,
    );
    for (const line of [down.map(place), across.map(place)]) {
      const rising = [...line].sort((a, b) => a - b);
      expect([rising, [...rising].reverse()]).toContainEqual(line);
    }
  }
});

test('The greatest come first by value, dates keep their order, and what has no figure at all stands at the end', () => {
  const figures: Record<string, number | null> = {
    'a 1': 1,
    'a 2': 3,
    'b 1': 9,
    'b 2': null,
    'c 1': null,
    'c 2': null,
  };
  const figure = (y: unknown, x: unknown) => figures[`${y} ${x}`];
  expect(ordered(['a', 'b', 'c'], ['1', '2'], 'value', [true, true], figure)).toEqual([
    ['b', 'a', 'c'],
    ['1', '2'],
  ]);
  expect(ordered(['c', 'b', 'a'], ['2', '1'], 'likeness', [true, false], figure)[1]).toEqual(['2', '1']);
  expect(ordered(['c', 'b', 'a'], ['2', '1'], undefined, [true, true], figure)).toEqual([
    ['c', 'b', 'a'],
    ['2', '1'],
  ]);
});
