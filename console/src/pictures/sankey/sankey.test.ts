import { expect, test } from 'vitest';
import { column, input } from '../parts/testing';
import { draw } from './draw';

const columns = [
  column('from', 'group', 'text'),
  column('over', 'group', 'text'),
  column('to', 'group', 'text'),
  column('n', 'figure', 'integer'),
];
const values = [
  ['a', 'a', 'b', 'b'],
  ['x', 'y', 'x', 'x'],
  ['p', 'p', 'p', 'q'],
  [5, 2, 3, null],
];
const links = (more = {}) =>
  (
    draw(input('sankey', columns, values, more)).option.series as {
      links: { source: string; target: string; value: number; marks: number[]; lineStyle: { opacity: number } }[];
    }[]
  )[0]?.links ?? [];

test('Flows lead from field to field, each the sum of all that takes it, and picks all of that', () => {
  expect(links().map((l) => [l.source, l.target, l.value, l.marks])).toEqual([
    ['0 "a"', '1 "x"', 5, [0]],
    ['1 "x"', '2 "p"', 8, [0, 2]],
    ['0 "a"', '1 "y"', 2, [1]],
    ['1 "y"', '2 "p"', 2, [1]],
    ['0 "b"', '1 "x"', 3, [2]],
  ]);
  const drawing = draw(input('sankey', columns, values));
  expect(drawing.marks.map((m) => m.text)).toEqual(['a to x to p: 5', 'a to y to p: 2', 'b to x to p: 3']);
  expect(drawing.note).toMatch(/^1 figure is not above zero/);
});

test('A flow is as strong as the part of it that is picked', () => {
  const [, shared, other] = links({ selection: { members: [['a', 'x', 'p']] } });
  expect(shared?.lineStyle.opacity).toBeCloseTo(0.45 * (0.3 + 0.7 * (5 / 8)));
  expect(other?.lineStyle.opacity).toBeCloseTo(0.45 * 0.3);
});

test('What flows between many members takes at least half of the height', () => {
  const gapOf = (count: number) => {
    const to = Array.from({ length: count }, (_, i) => `p${i}`);
    const from = to.map((_, i) => 'ab'[i % 2] as string);
    const two = [column('from', 'group', 'text'), column('to', 'group', 'text'), column('n', 'figure', 'integer')];
    const { option } = draw(input('sankey', two, [from, to, to.map(() => 1)], { height: 216 }));
    return (option.series as { nodeGap: number }[])[0]?.nodeGap ?? 0;
  };
  expect(gapOf(4)).toBeGreaterThanOrEqual(6);
  expect(gapOf(26)).toBe(4);
});
