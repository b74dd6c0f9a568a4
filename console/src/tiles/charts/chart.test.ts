import { describe, expect, test } from 'vitest';
import type { TileInfo } from '../../api/client';
import { light } from '../../look/tokens';
import { type ChartInput, chart } from './chart';
import { colourOf } from './colours';
import { periodsBetween } from './periods';

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
