import { describe, expect, test } from 'vitest';
import type { TileInfo } from '../../api/client';
import { light } from '../../look/tokens';
import { periodsBetween } from '../../model/periods';
import { type ChartInput, chart } from './chart';
import { colourOf } from './colours';

const column = (name: string, role: string, kind: string, at: string | null = null) => ({
  name,
  title: name,
  role,
  kind,
  format: null,
  at,
});
const input = (
  picture: string,
  columns: ReturnType<typeof column>[],
  values: unknown[][],
  more: Partial<ChartInput> = {},
): ChartInput => ({
  tile: { picture, pick: 'many', show: [{ additive: true }] } as unknown as TileInfo,
  table: { columns, values },
  partial: [],
  dashboard: 'd',
  weekStarts: 'monday',
  tokens: light,
  width: 400,
  height: 300,
  ...more,
});
type Drawn = {
  series: { data: { value: number | null; itemStyle: { opacity: number; color: string } }[] }[];
  xAxis: { data: string[] };
  yAxis: { data: string[] };
};
const drawn = (i: ChartInput) => chart(i).option as unknown as Drawn;

describe('A bar chart', () => {
  const routes = [
    column('route', 'group', 'text'),
    column('rest', 'rest', 'boolean'),
    column('income', 'figure', 'integer'),
  ];
  const values = [
    ['a', null, null],
    [false, false, true],
    [3, 2, 1],
  ];
  test('shows the picked strong and the others faint', () => {
    const bars = drawn(input('bar', routes, values, { selection: { members: [['a']] } })).series[0]?.data;
    expect(bars?.map((b) => b.itemStyle.opacity)).toEqual([1, 0.3, 0.3]);
  });
  test('tells "not given" from the rest, and draws the rest in its own grey', () => {
    const made = chart(input('bar', routes, values));
    expect(made.marks.map((m) => [m.member, m.isRest])).toEqual([
      [['a'], false],
      [[null], false],
      [[null], true],
    ]);
    expect(drawn(input('bar', routes, values)).series[0]?.data[2]?.itemStyle.color).toBe(light.rest);
  });
});

test('A month without rows is a gap, not left out and not zero', () => {
  const made = drawn(
    input(
      'line',
      [column('m', 'group', 'date', 'month'), column('f', 'figure', 'integer')],
      [
        ['2025-01-01', '2025-03-01'],
        [5, 0],
      ],
    ),
  );
  expect(made.xAxis.data).toEqual(['Jan 2025', 'Feb 2025', 'Mar 2025']);
  expect(made.series[0]?.data.map((d) => d.value)).toEqual([5, null, 0]);
});

test('A heat map begins the week on the day that the workspace sets', () => {
  const columns = [
    column('d', 'group', 'integer', 'day_of_week'),
    column('h', 'group', 'integer', 'hour_of_day'),
    column('f', 'figure', 'integer'),
  ];
  const made = drawn(
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

describe('A line for each year', () => {
  const columns = [
    column('m', 'group', 'integer', 'month_of_year'),
    column('y', 'group', 'date', 'year'),
    column('f', 'figure', 'integer'),
  ];
  const values = [
    [11, 12, 11, 12],
    ['2024-01-01', '2024-01-01', '2025-01-01', '2025-01-01'],
    [8, 9, 10, 4],
  ];
  const made = chart(input('line', columns, values, { partialPairs: [[12, '2025-01-01']] }));
  const series = made.option.series as { name: string; lineStyle: { type?: string }; data: unknown[] }[];
  test('leads to a month that is not whole by a dotted line, and marks it', () => {
    expect(series.map((s) => [s.name, s.lineStyle.type])).toEqual([
      ['2024', undefined],
      ['2025', undefined],
      ['2025', 'dotted'],
    ]);
    const value = (d: unknown) => (d as { value: number | null } | null)?.value ?? null;
    expect(series.map((s) => s.data.map(value))).toEqual([
      [8, 9],
      [10, null],
      [10, 4],
    ]);
  });
  test('says so in words, of that year only', () => {
    expect(made.marks.map((m) => m.text)).toEqual(['Nov: 2024 8, 2025 10', 'Dec: 2024 9, 2025 4, part of the period']);
  });
});

describe('The bar of all others', () => {
  const columns = [
    column('route', 'group', 'text'),
    column('rest', 'rest', 'boolean'),
    column('income', 'figure', 'integer'),
  ];
  const bars = (rest: number) =>
    chart(
      input('bar', columns, [
        ['a', 'b', null],
        [false, false, true],
        [100, 80, rest],
      ]),
    );
  test('is drawn broken with its figure where it would flatten the others', () => {
    const series = bars(12_345).option.series as { data: unknown[]; label?: { formatter: string; show: boolean } }[];
    expect(series.length).toBe(3);
    expect(series[0]?.data[2]).toMatchObject({ value: 105 });
    expect(series[2]?.label).toMatchObject({ show: true, formatter: '12.3 k' });
    expect(bars(12_345).marks[2]?.text).toBe('all others: 12,345');
  });
  test('is whole where it does not', () => {
    expect((bars(200).option.series as object[]).length).toBe(1);
  });
});

test('A scatter split by a field has its points in the colours of that field, each a mark of its own', () => {
  const columns = [
    { ...column('vessel', 'group', 'integer'), names: { 1: 'Amber', 2: 'Bright' } },
    { ...column('class', 'group', 'text'), colours: { Swift: '#123456' } },
    column('x', 'figure', 'integer'),
    column('y', 'figure', 'integer'),
  ];
  const made = chart(
    input('scatter', columns, [
      [1, 2, 2],
      ['Swift', 'Swift', 'Sounder'],
      [1, 2, 3],
      [4, 5, 6],
    ]),
  );
  const [points] = (made.option as unknown as Drawn).series;
  expect(points?.data.map((d) => d.itemStyle.color === '#123456')).toEqual([true, true, false]);
  expect((made.option.legend as { data: string[] }).data).toEqual(['Swift', 'Sounder']);
  expect(made.marks.map((m) => [m.member, m.text])).toEqual([
    [[1], 'Amber, Swift: 1, 4'],
    [[2], 'Bright, Swift: 2, 5'],
    [[2], 'Bright, Sounder: 3, 6'],
  ]);
});

test('Text of the data can not become markup in a tooltip', () => {
  const made = chart(
    input(
      'bar',
      [column('r', 'group', 'text'), column('f', 'figure', 'integer')],
      [['<img src=x onerror=alert(1)>'], [1]],
    ),
  );
  const tooltip = made.option.tooltip as { formatter: (p: unknown) => string };
  expect(tooltip.formatter([{ dataIndex: 0, seriesIndex: 0 }])).not.toContain('<img');
});

test('A member keeps its colour on every tile of a dashboard, whatever the grain', () => {
  const first = colourOf('dash', 'area', 'North', light);
  colourOf('dash', 'area', 'South', light);
  expect(colourOf('dash', 'area', 'North', light)).toBe(first);
  expect(colourOf('dash', 'area', 'South', light)).not.toBe(first);
});

test.each([
  ['month', '2024-01-01', '2024-03-01', 3],
  ['quarter', '2023-10-01', '2024-04-01', 3],
  ['week', '2024-02-26', '2024-03-11', 3],
  ['day', '2024-02-28', '2024-03-01', 3],
  ['year', '2022-01-01', '2024-01-01', 3],
  ['hour', '2024-01-01T22:00:00', '2024-01-02T00:00:00', 3],
])('Periods by %s from %s to %s', (grain, from, to, count) => {
  const all = periodsBetween(from, to, grain);
  expect(all?.length).toBe(count);
  expect(all?.[count - 1]).toBe(to);
});
