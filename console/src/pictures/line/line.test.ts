import { describe, expect, test } from 'vitest';
import { column, drawn, input } from '../parts/testing';
import { draw } from './draw';

test('A month without rows is a gap, not left out and not zero', () => {
  const made = drawn(
    draw,
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
  const made = draw(input('line', columns, values, { partialPairs: [[12, '2025-01-01']] }));
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
