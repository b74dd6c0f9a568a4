import { expect, test } from 'vitest';
import { contrast } from '../../look/tokens';
import { column, input } from '../parts/testing';
import { drawOn } from './draw';

const areas = { features: ['a', 'b', 'land'].map((code) => ({ properties: { code } })) };
const columns = [column('sea', 'group', 'text'), column('n', 'figure', 'integer')];
const values = [
  ['b', 'a', 'nowhere', null],
  [10, 30, 5, 7],
];
const draw = drawOn(areas, 'm', 'code');
const data = (more = {}) =>
  (
    draw(input('map', columns, values, more)).option.series as {
      data: { name: string; itemStyle: { areaColor: string; opacity: number } }[];
    }[]
  )[0]?.data ?? [];

test('Members have the area of their value, and those without one are told', () => {
  const drawing = draw(input('map', columns, values));
  expect(data().map((d) => d.name)).toEqual(['b', 'a']);
  expect(data()[0]?.itemStyle.areaColor).not.toBe(data()[1]?.itemStyle.areaColor);
  expect(drawing.marks.map((m) => m.text)).toEqual(['b: 10', 'a: 30']);
  expect(drawing.note).toBe('Without an area: nowhere, not given.');
});

test('What is picked stays strong, and a place without a figure says so', () => {
  expect(data({ selection: { members: [['a']] } }).map((d) => d.itemStyle.opacity)).toEqual([0.3, 1]);
  const { formatter } = draw(input('map', columns, values)).option.tooltip as { formatter: (p: object) => string };
  expect(formatter({ name: '<land>', dataIndex: Number.NaN })).toBe('&#60;land&#62;: no figure');
});

test('Where colour tells how much, no pattern lies over it', () => {
  expect(draw(input('map', columns, values, { tokens: contrast })).option.aria).toBeUndefined();
});
