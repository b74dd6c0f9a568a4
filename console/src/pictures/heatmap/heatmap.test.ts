import { expect, test } from 'vitest';
import { light } from '../../look/tokens';
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

test('Figures are printed in cells that have room, in what can be read on them', () => {
  const given = input(
    'heatmap',
    [column('a', 'group', 'text'), column('b', 'group', 'text'), column('n', 'figure', 'integer')],
    [
      ['x', 'x'],
      ['p', 'q'],
      [1, 900],
    ],
  );
  const tile = { ...given.tile, options: { values: 'shown' } } as typeof given.tile;
  const series = (width: number) =>
    (
      draw({ ...given, tile, width }).option.series as {
        label: { show: boolean; formatter: (p: { dataIndex: number }) => string };
        data: { label?: { color: string } }[];
      }[]
    )[0];
  expect(series(600)?.label.show).toBe(true);
  expect(series(600)?.label.formatter({ dataIndex: 1 })).toBe('900');
  expect(series(600)?.data.map((d) => d.label?.color)).toEqual([light.ink, light.surface]);
  expect(series(130)?.label.show).toBe(false);
});
