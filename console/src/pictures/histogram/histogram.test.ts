import { expect, test } from 'vitest';
import { column, input } from '../parts/testing';
import { draw } from './draw';

const given = (more: Parameters<typeof input>[3] = {}) =>
  input(
    'histogram',
    [{ ...column('delay', 'group', 'integer'), edges: [0, 5, 10, 15] }, column('rows', 'figure', 'integer')],
    [
      [0, 5, 10],
      [7, 0, 2],
    ],
    more,
  );

test('Each range is a mark, those without rows too, and its ends can be picked', () => {
  const made = draw(given());
  expect(made.marks.map((m) => m.text)).toEqual(['0 to 5: 7', '5 to 10: 0', '10 to 15: 2']);
  expect(made.along).toEqual({ members: [0, 5, 10], at: null, edges: [0, 5, 10, 15] });
});

test('A range that is picked stands strong and the others faint', () => {
  const series = draw(given({ selection: { members: [], range: { from: 5, to: 10, below: true } } })).option.series as {
    data: { itemStyle: { opacity: number } }[];
  }[];
  expect(series[0]?.data.map((d) => d.itemStyle.opacity)).toEqual([0.3, 1, 0.3]);
});
