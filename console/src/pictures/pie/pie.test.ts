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

test('Where there is little room, shares stand in the slices, rounded, and only where they have room', () => {
  const columns = [column('class', 'group', 'text'), column('n', 'figure', 'integer')];
  const values = [
    ['adult', 'car'],
    [751, 249],
  ];
  const labelled = (width: number, height: number, ring?: boolean) => {
    const given = input('pie', columns, values, { width, height });
    const options: Record<string, string> = ring ? { ring: 'true' } : {};
    const tile = { ...given.tile, options };
    const { series } = draw({ ...given, tile }).option as unknown as {
      series: { label: { show: boolean; formatter: (p: { dataIndex: number }) => string } }[];
    };
    const label = series[0]?.label;
    return label?.show ? [0, 1].map((dataIndex) => label.formatter({ dataIndex })) : [];
  };
  expect(labelled(200, 160)).toEqual(['75 %', '25 %']);
  expect(labelled(200, 160, true)).toEqual(['75 %', '25 %']);
  expect(labelled(100, 100, true)).toEqual([]);
  expect(labelled(400, 300)).toEqual(['adult\n75.1 %', 'car\n24.9 %']);
  // Wide, but not high enough for the labels at one side: the names stand above.
  const many = input(
    'pie',
    columns,
    [
      ['a', 'b', 'c', 'd', 'e', 'f'],
      [50, 10, 10, 10, 10, 10],
    ],
    { width: 800, height: 90 },
  );
  expect(draw(many).legend?.map((e) => e.name)).toEqual(['a', 'b', 'c', 'd', 'e', 'f']);
  expect(draw({ ...many, height: 300 }).legend).toBeUndefined();
});

test('What stands right above or below a slice keeps off it', () => {
  const columns = [column('class', 'group', 'text'), column('n', 'figure', 'integer')];
  const lines = (values: (string | number)[][]) => {
    const { option } = draw(input('pie', columns, values, { width: 400, height: 200 }));
    const { series } = option as unknown as {
      series: { radius: [number, number]; data: { labelLine: { length: number } }[] }[];
    };
    return { radius: series[0]?.radius[1] ?? 0, lengths: series[0]?.data.map((d) => d.labelLine.length) ?? [] };
  };
  const [alone, two] = [
    lines([['all'], [3]]),
    lines([
      ['a', 'b'],
      [1, 1],
    ]),
  ];
  expect(alone.lengths[0]).toBeGreaterThan(two.lengths[0] ?? 0);
  expect(alone.radius).toBeLessThan(two.radius);
});
