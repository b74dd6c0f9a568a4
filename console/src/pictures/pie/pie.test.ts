import { expect, test } from 'vitest';
import { light } from '../../look/tokens';
import { column, drawn, input } from '../parts/testing';
import { draw } from './draw';

test('A slice tells its share of those shown, and "not given" and the rest are grey', () => {
  const columns = [
    { ...column('class', 'group', 'text'), places: { Swift: 0 } },
    column('rest', 'rest', 'boolean'),
    column('n', 'figure', 'integer'),
  ];
  const given = input('pie', columns, [
    ['Swift', null, null],
    [false, false, true],
    [6, 3, 1],
  ]);
  expect(draw(given).marks.map((m) => m.text)).toEqual([
    'Swift: 6, 60.0 % of those shown',
    'not given: 3, 30.0 % of those shown',
    'all others: 1, 10.0 % of those shown',
  ]);
  expect(drawn(draw, given).series[0]?.data.map((d) => d.itemStyle.color)).toEqual([
    light.series[0],
    light.rest,
    light.rest,
  ]);
});
