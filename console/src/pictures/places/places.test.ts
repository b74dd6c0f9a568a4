import { expect, test } from 'vitest';
import { nearestPoint } from '../parts/chart/useChart';
import { column, input } from '../parts/testing';
import { placesOn } from './draw';

const areas = {
  features: [
    {
      properties: null,
      geometry: {
        coordinates: [
          [
            [0, 0],
            [4, 0],
            [4, 2],
            [0, 0],
          ],
        ],
      },
    },
  ],
};
const draw = placesOn(areas, 'm');
const columns = [
  column('port', 'group', 'text'),
  column('x', 'figure', 'float'),
  column('y', 'figure', 'float'),
  column('n', 'figure', 'integer'),
  column('share', 'figure', 'float'),
  column('rest', 'rest', 'boolean'),
];
const values = [
  ['a', 'b', 'far', 'lost', null],
  [1, 3, 9, null, 2],
  [1, 1.5, 1, 1, 1],
  [4, 100, 1, 1, 1],
  [0.1, 0.3, 0.2, 0.2, 0.2],
  [false, false, false, false, true],
];

test('Members stand where their figures say, as large as the third, and those off the map are told', () => {
  const drawing = draw(input('places', columns, values));
  expect(drawing.points).toEqual([
    [1, 1],
    [3, 1.5],
  ]);
  const [series] = drawing.option.series as { data: { symbolSize: number; itemStyle: { color: string } }[] }[];
  expect(series?.data[0]?.symbolSize).toBeCloseTo(7 + 19 * 0.2);
  expect(series?.data[1]?.symbolSize).toBe(26);
  expect(series?.data[0]?.itemStyle.color).not.toBe(series?.data[1]?.itemStyle.color);
  expect(drawing.marks[0]?.text).toBe('a: n 4, share 0.10');
  expect(drawing.note).toBe('Not on the map: far, lost, all others.');
  expect(draw(input('places', columns.slice(0, 3), values.slice(0, 3))).option.visualMap).toBeUndefined();
});

test('What is nearest to a click is meant, and nothing that is far', () => {
  const points: [number, number][] = [
    [10, 10],
    [20, 10],
  ];
  expect(nearestPoint(points, [16, 10])).toBe(1);
  expect(nearestPoint(points, [10, 21])).toBe(0);
  expect(nearestPoint(points, [10, 23])).toBeUndefined();
});
