import { expect, test } from 'vitest';
import { column, input } from '../parts/testing';
import { draw } from './draw';

test('A box has its five figures in their order, is picked as one, and says them all', () => {
  const columns = [
    column('class', 'group', 'text'),
    ...['low', 'q1', 'mid', 'q3', 'high'].map((n) => column(n, 'figure', 'float')),
  ];
  const values = [
    ['Swift', 'Sounder'],
    [-4, -3],
    [0, 1],
    [2, 2],
    [5, 6],
    [20, null],
  ];
  const drawing = draw(input('box', columns, values, { selection: { members: [['Sounder']] } }));
  const [series] = drawing.option.series as [
    { layout: string; data: { value: unknown[]; itemStyle: { opacity: number } }[] },
  ];
  expect(series.data.map((d) => d.value)).toEqual([
    [-4, 0, 2, 5, 20],
    [-3, 1, 2, 6, '-'],
  ]);
  expect(series.data.map((d) => d.itemStyle.opacity)).toEqual([0.3, 1]);
  expect([drawing.lying, series.layout]).toEqual([true, 'vertical']);
  expect(drawing.marks[0]?.text).toBe('Swift: low −4.00, q1 0.00, mid 2.00, q3 5.00, high 20.00');
});
