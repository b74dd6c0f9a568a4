import { expect, test } from 'vitest';
import type { TileInfo } from '../../api/client';
import { column, input } from '../parts/testing';
import { draw } from './draw';

const columns = [
  column('class', 'group', 'text'),
  column('before', 'figure', 'integer'),
  column('after', 'figure', 'integer'),
];
const bars = (i: Parameters<typeof draw>[0]) => {
  const series = draw(i).option.series as { data: { value: number | null; marks: number[] }[] }[];
  return series.map((s) => s.data.map((d) => d.value));
};

test('Steps lead from the sum of one measure to that of another, and only they can be picked', () => {
  const i = input('waterfall', columns, [
    ['a', 'b', null],
    [10, 20, 5],
    [15, 8, null],
  ]);
  // 35, then +5, -12, -5: 40, 28, 23.
  expect(bars(i)).toEqual([
    [0, 35, 28, 23, 0],
    [35, 5, 12, 5, 23],
    [null, null, null, null, null],
  ]);
  const drawing = draw(i);
  expect(drawing.marks.map((m) => [m.text, m.data])).toEqual([
    ['a: +5, to 40', 1],
    ['b: \u221212, to 28', 2],
    ['not given: \u22125, to 23', 3],
  ]);
  expect(drawing.summary).toBe('from 35 to 23');
  const { formatter } = drawing.option.tooltip as { formatter: (p: object) => string };
  expect(formatter({ dataIndex: 0 })).toMatch(/before.*35/);
  expect(formatter({ dataIndex: 2 })).toMatch(/^b.*before.*20.*after.*8.*Difference.*\u221212/);
});

test('Beside another it is drawn at the scale of both, whatever its own steps and figures are', () => {
  const axis = (members: string[], figures: number[], scale?: [number, number]) =>
    (
      draw(input('waterfall', columns.slice(0, 2), [members, figures], { scale, height: 200 })).option as {
        xAxis: { min: number; max: number; interval: number };
      }
    ).xAxis;
  const spots = (figures: number[], width: number, scale: [number, number] = [0, 150]) => {
    const i = input('waterfall', columns.slice(0, 2), [figures.map(String), figures], { scale, width });
    const [, bars] = draw(i).option.series as { data: { label: { position?: string; show?: boolean } }[] }[];
    return bars?.data.map(({ label }) => label.position ?? label.show);
  };
  const few: [string[], number[]] = [['a'], [3]];
  const many: [string[], number[]] = [[...'abcdefghijklmnopqrst'], [...'abcdefghijklmnopqrst'].map(() => 12_345)];
  const both: [number, number] = [0, 250_000];
  expect(axis(...few)).not.toMatchObject({ max: axis(...many).max });
  const { min, max, interval } = axis(...many, both);
  expect(axis(...few, both)).toMatchObject({ min, max, interval });
  expect(max).toBe(both[1] + 50_000);
  // The figure stands where there is room for it: at the end, before the beginning, in the bar, or nowhere.
  expect(spots([30, 100, 10], 200)).toEqual(['right', 'inside', 'left', 'inside']);
  expect(spots([70, 20], 60)).toEqual([false, false, false]);
  // Left of the part above nothing lies the one below it.
  expect(spots([-80, 270], 200, [-400, 190])).toEqual(['right', 'inside', 'left']);
  const upright = input(
    'waterfall',
    [column('at', 'group', 'date'), column('change', 'figure', 'integer')],
    [
      ['2025-01-01', '2025-02-01'],
      [-20, -28],
    ],
  );
  const [, , below] = draw({ ...upright, scale: [-50, 0] }).option.series as { data: { label: object }[] }[];
  expect(below?.data.map((d) => d.label)).toEqual([{}, { show: false }, { show: false }]);
});

test('A step over nothing has a part at either side, and the sum is of those shown where others are left out', () => {
  const i = input('waterfall', columns.slice(0, 2), [
    ['a', 'b'],
    [4, -6],
  ]);
  const cut = { ...i, tile: { ...i.tile, isTop: true, hasRest: false } as TileInfo };
  expect(bars(cut)).toEqual([
    [0, 0, 0],
    [4, 4, null],
    [null, -2, -2],
  ]);
  expect(draw(cut).note).toBe('The sum is of those shown.');
  expect(draw(i).note).toBeUndefined();
});
