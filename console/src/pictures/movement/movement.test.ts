import { expect, test } from 'vitest';
import { column } from '../parts/testing';
import { movementOf } from './movement';

const columns = [
  column('grade', 'group', 'text'),
  column('grade later', 'group', 'text'),
  column('subjects', 'figure', 'integer'),
];

test('Pairs of states are a table with sums of both, and those who were not seen again come last', () => {
  const moved = movementOf({
    columns,
    values: [
      ['sound', 'sound', 'sound', 'fair'],
      ['fair', 'poor', null, 'fair'],
      [3, 2, 1, 4],
    ],
  });
  expect([moved?.first, moved?.later]).toEqual([
    ['sound', 'fair'],
    ['fair', 'poor', null],
  ]);
  expect(moved?.cells).toEqual([
    [3, 2, 1],
    [4, null, null],
  ]);
  expect([moved?.ofFirst, moved?.ofLater]).toEqual([
    [6, 4],
    [7, 2, 1],
  ]);
});

test('What is no table of pairs is none', () => {
  expect(movementOf({ columns: columns.slice(0, 2), values: [[], []] })).toBeUndefined();
});
