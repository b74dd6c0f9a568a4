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

test('Points of two fields have the shape of one of them, and axes that several pictures share', () => {
  const columns = [
    column('route', 'group', 'text'),
    column('area', 'group', 'text'),
    column('x', 'figure', 'float'),
    column('y', 'figure', 'float'),
  ];
  const given = input(
    'scatter',
    columns,
    [
      ['r1', 'r2', 'r3'],
      ['north', 'south', 'north'],
      [1000.1, 1000.15, 1000.2],
      [4, 5, 6],
    ],
    {
      ends: [
        [1000.1, 1000.2],
        [0, 6],
      ],
    },
  );
  const made = draw({
    ...given,
    tile: { ...given.tile, by: [{}, {}] as typeof given.tile.by, options: { shape: 'area' } },
  });
  const [points] = made.option.series as { data: { symbol: string }[] }[];
  expect(points?.data.map((d) => d.symbol)).toEqual(['circle', 'rect', 'circle']);
  expect(made.note).toBe('●\u00a0north  ■\u00a0south');
  expect(made.marks[1]?.member).toEqual(['r2', 'south']);
  const axis = made.option.xAxis as { min: number; max: number; interval: number };
  expect(axis.min).toBeLessThan(1000.1);
  expect(axis.max).toBeGreaterThan(1000.2);
  expect((axis.max - axis.min) / axis.interval).toBeLessThan(12);
});

test('Through a lens the axes are a part of the whole, whose ends are not written, and few points are named again', () => {
  const many = Array.from({ length: 40 }, (_, i) => i);
  const given = input(
    'scatter',
    [column('v', 'group', 'text'), column('x', 'figure', 'float'), column('y', 'figure', 'float')],
    [many.map((i) => `v${i}`), many, many],
  );
  const whole = draw(given);
  const named = ({ option }: typeof whole) => (option.series as { label: { show: boolean } }[])[0]?.label.show;
  expect(named(whole)).toBe(false);
  const part = draw({ ...given, lens: { x: 10, y: 10, times: 4 } });
  expect(named(part)).toBe(true);
  const axis = part.option.xAxis as { min: number; max: number; axisLabel: { showMinLabel: boolean } };
  const [least, most] = whole.plane?.x ?? [0, 0];
  expect(axis.max - axis.min).toBeCloseTo((most - least) / 4);
  expect((axis.max + axis.min) / 2).toBeCloseTo(10);
  expect(axis.axisLabel.showMinLabel).toBe(false);
  expect(part.plane).toEqual(whole.plane);
  expect(part.marks.length).toBe(40);
});

test('Points without figures leave an empty picture, not axes without ends', () => {
  const columns = [column('v', 'group', 'text'), column('x', 'figure', 'float'), column('y', 'figure', 'float')];
  const made = draw(
    input('scatter', columns, [
      ['a', 'b'],
      [null, 1],
      [2, null],
    ]),
  );
  expect(made.marks).toEqual([]);
  expect(made.option.xAxis).toBeUndefined();
  expect(made.plane).toBeUndefined();
});

test('Points that the service has put into cells are drawn as such and are none to pick', () => {
  const made = draw(
    input(
      'scatter',
      [
        column('x', 'figure', 'float'),
        column('y', 'figure', 'float'),
        column('points', 'figure', 'integer'),
        column('cell_width', 'tip', 'float'),
        column('cell_height', 'tip', 'float'),
      ],
      [[0.5], [1.5], [70_000], [1], [1]],
    ),
  );
  expect((made.option.series as { type: string; data: unknown[] }[])[0]).toMatchObject({
    type: 'custom',
    data: [[0.5, 1.5, 70_000]],
  });
  expect(made.marks).toEqual([]);
});

test('Many points are drawn by what is asked of each, as they look each by itself', () => {
  const columns = [
    column('vessel', 'group', 'text'),
    { ...column('class', 'group', 'text'), colours: { Swift: '#123456' } },
    column('x', 'figure', 'integer'),
    column('y', 'figure', 'integer'),
  ];
  const rows = (n: number) =>
    input('scatter', columns, [
      Array.from({ length: n }, (_, i) => `v${i}`),
      Array.from({ length: n }, (_, i) => (i % 2 ? 'Swift' : 'Sounder')),
      Array.from({ length: n }, (_, i) => i),
      Array.from({ length: n }, (_, i) => n - i),
    ]);
  const given = { ...rows(600), selection: { members: [['v1']] } };
  const [series] = draw(given).option.series as [
    {
      data: unknown[];
      symbolSize: (v: unknown, at: object) => number;
      symbol: (v: unknown, at: object) => string;
      itemStyle: { color: (at: object) => string };
    },
  ];
  expect(series.data[3]).toEqual([3, 597]);
  const at = { dataIndex: 3 };
  expect([series.symbolSize(null, at), series.symbol(null, at)]).toEqual([4, 'circle']);
  const alpha = (of: number) => Number.parseInt(series.itemStyle.color({ dataIndex: of }).slice(7), 16);
  expect(series.itemStyle.color(at).slice(0, 7)).toBe('#123456');
  // What is not picked is faint.
  expect(alpha(1)).toBe(Math.round(0.55 * 255));
  expect(alpha(3)).toBeLessThan(alpha(1) / 2);
  expect(draw(given).marks[3]?.text).toBe('v3, Swift: 3, 597');
  // What is picked is drawn once more above all others, unless it is most of them.
  const above = (members: string[][]) =>
    (draw({ ...given, selection: { members } }).option.series as { data: unknown[] }[])[1]?.data;
  expect(above([['v1']])).toEqual([[1, 599]]);
  expect(above([])).toEqual([]);
  expect(above(Array.from({ length: 400 }, (_, i) => [`v${i}`]))).toEqual([]);
  expect(draw({ ...given, ...rows(500) }).option.series).toHaveLength(1);
});
