import { describe, expect, test } from 'vitest';
import type { TileInfo, TileResult } from '../api/client';
import { commonScale } from '../pictures/parts/scale';
import { differenceOf } from './compare';

type Table = NonNullable<TileResult['table']>;

const column = (name: string, role: string) => ({
  name,
  title: name,
  role,
  kind: role === 'figure' ? 'integer' : 'text',
  format: null,
  at: null,
  colours: null,
});
const table = (groups: unknown[][], figures: number[]): Table =>
  ({
    columns: [...groups.map((_, i) => column(`g${i}`, 'group')), column('n', 'figure')],
    values: [...groups, figures],
  }) as unknown as Table;
const tile = (picture: string, additive = true) => ({ picture, show: [{ additive }] }) as unknown as TileInfo;

describe('Two results', () => {
  test('are drawn at one scale, stacked parts taken together', () => {
    const [a, b] = [table([['x', 'y']], [3, 9]), table([['x', 'y']], [4, 71])];
    expect(commonScale(tile('bar'), true, a, b)).toEqual([0, 80]);
    const split = table(
      [
        ['x', 'x'],
        ['s', 't'],
      ],
      [30, 25],
    );
    expect(commonScale(tile('bar'), true, split, split)).toEqual([0, 60]);
    expect(commonScale(tile('bar', false), true, split, split)).toEqual([0, 30]);
    expect(commonScale(tile('bar'), true, table([[]], []), table([[]], []))).toBeUndefined();
  });

  test('are told apart where they differ most, or said to be equal', () => {
    expect(differenceOf(table([], [10]), table([], [7]))).toBe('B is −3 against A.');
    expect(differenceOf(table([['x', 'y']], [3, 9]), table([['y', 'x']], [19, 4]))).toBe(
      'Largest difference, B against A: y +10.',
    );
    expect(differenceOf(table([['x']], [3]), table([['x']], [3]))).toBe('A and B are equal.');
    const share = (figure: number): Table => {
      const { columns, values } = table([], [figure]);
      return {
        columns: columns.map((c) => ({ ...c, format: { decimals: 1, factor: 100, unit: '%' } })),
        values,
      } as Table;
    };
    expect(differenceOf(share(0.201), share(0.115))).toBe('B is −8.6 percentage points against A.');
    expect(differenceOf(table([['x']], [3]), table([['y']], [3]))).toBe(
      'No member has a figure on both sides. 1 member only in A, 1 member only in B.',
    );
    expect(differenceOf(table([['x', 'y', 'z']], [3, 4, 5]), table([['x']], [3]))).toBe(
      'Equal where both have a figure. 2 members only in A.',
    );
    expect(differenceOf(table([['x', 'y']], [3, 4]), table([['x', 'z']], [5, 1]))).toBe(
      'Largest difference, B against A: x +2. 1 member only in A, 1 member only in B.',
    );
  });
});

test('Tables of words differ by lines, since no difference of theirs is a figure', () => {
  const words = (cells: string[]): Table =>
    ({
      columns: [column('field', 'group'), column('told', 'group'), { ...column('all', 'figure'), kind: 'text' }],
      values: [['Delay', 'Delay'], ['n', 'mean (sd)'], cells],
    }) as unknown as Table;
  expect(differenceOf(words(['5', '2.0 (1.0)']), words(['5', '2.0 (1.0)']))).toBe('A and B are equal.');
  expect(differenceOf(words(['5', '2.0 (1.0)']), words(['4', '2.0 (1.0)']))).toBe('1 of 2 lines differ.');
});
