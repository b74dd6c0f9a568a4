import { expect, test } from 'vitest';
import { column, drawn, input } from '../parts/testing';
import { draw } from './draw';

test('A heat map begins the week on the day that the workspace sets', () => {
  const columns = [
    column('d', 'group', 'integer', 'day_of_week'),
    column('h', 'group', 'integer', 'hour_of_day'),
    column('f', 'figure', 'integer'),
  ];
  const made = drawn(
    draw,
    input(
      'heatmap',
      columns,
      [
        [1, 7],
        [8, 8],
        [1, 2],
      ],
      { weekStarts: 'sunday' },
    ),
  );
  expect(made.yAxis.data).toEqual(['Sun', 'Mon']);
});
