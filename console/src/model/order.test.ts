import { describe, expect, test } from 'vitest';
import type { TileResult } from '../api/client';
import { inOrderOf, inPlacesOf } from './order';

type Table = NonNullable<TileResult['table']>;

const table = (members: unknown[], figures: number[], rest = members.map(() => false)): Table =>
  ({
    columns: [{ role: 'group' }, { role: 'rest' }, { role: 'figure' }],
    values: [members, rest, figures],
  }) as unknown as Table;

describe('The lines of a result', () => {
  test('stand in the order of another, what only one of them has at the end', () => {
    const a = table(['gone', 'x', 'y', null], [1, 2, 3, 4]);
    const b = table([null, 'y', 'new', 'x'], [5, 6, 7, 8]);
    expect(inOrderOf(a, b).values).toEqual([
      [null, 'y', 'x', 'gone'],
      [false, false, false, false],
      [4, 3, 2, 1],
    ]);
    expect(inOrderOf(table([], []), b).values).toEqual([[], [], []]);
  });

  test('keep their places while a hand moves, as long as the members are the same', () => {
    const before = table(['x', 'y', null, null], [9, 8, 7, 6], [false, false, false, true]);
    const after = table(['y', null, 'x', null], [6, 5, 4, 9], [false, false, false, true]);
    expect(inPlacesOf(after, before).values).toEqual([
      ['x', 'y', null, null],
      [false, false, false, true],
      [4, 6, 5, 9],
    ]);
    const others = table(['y', 'new', 'x', null], [6, 5, 4, 9], [false, false, false, true]);
    expect(inPlacesOf(others, before)).toBe(others);
    const fewer = table(['y', 'x'], [6, 5]);
    expect(inPlacesOf(fewer, before)).toBe(fewer);
  });
});
