import { expect, test } from 'vitest';
import { column, type Drawn, input } from '../parts/testing';
import { draw } from './draw';

test('A scatter split by a field has its points in the colours of that field, each a mark of its own', () => {
  const columns = [
    { ...column('vessel', 'group', 'integer'), names: { 1: 'Amber', 2: 'Bright' } },
    { ...column('class', 'group', 'text'), colours: { Swift: '#123456' }, places: { Sounder: 0 } },
    column('x', 'figure', 'integer'),
    column('y', 'figure', 'integer'),
  ];
  const made = draw(
    input('scatter', columns, [
      [1, 2, 2],
      ['Swift', 'Swift', 'Sounder'],
      [1, 2, 3],
      [4, 5, 6],
    ]),
  );
  const [points] = (made.option as unknown as Drawn).series;
  expect(points?.data.map((d) => d.itemStyle.color === '#123456')).toEqual([true, true, false]);
  expect(made.legend?.map((e) => e.name)).toEqual(['Swift', 'Sounder']);
  expect(made.marks.map((m) => [m.member, m.text])).toEqual([
    [[1], 'Amber, Swift: 1, 4'],
    [[2], 'Bright, Swift: 2, 5'],
    [[2], 'Bright, Sounder: 3, 6'],
  ]);
});
