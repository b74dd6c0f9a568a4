import { describe, expect, test } from 'vitest';
import { light } from '../../look/tokens';
import { column, drawn, input } from '../parts/testing';
import { draw } from './draw';

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
    const bars = drawn(draw, input('bar', routes, values, { selection: { members: [['a']] } })).series[0]?.data;
    expect(bars?.map((b) => b.itemStyle.opacity)).toEqual([1, 0.3, 0.3]);
  });
  test('tells "not given" from the rest, and draws the rest in its own grey', () => {
    const made = draw(input('bar', routes, values));
    expect(made.marks.map((m) => [m.member, m.isRest])).toEqual([
      [['a'], false],
      [[null], false],
      [[null], true],
    ]);
    expect(drawn(draw, input('bar', routes, values)).series[0]?.data[2]?.itemStyle.color).toBe(light.rest);
  });
});

describe('The bar of all others', () => {
  const columns = [
    column('route', 'group', 'text'),
    column('rest', 'rest', 'boolean'),
    column('income', 'figure', 'integer'),
  ];
  const bars = (rest: number) =>
    draw(
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

test('Text of the data can not become markup in a tooltip', () => {
  const made = draw(
    input(
      'bar',
      [column('r', 'group', 'text'), column('f', 'figure', 'integer')],
      [['<img src=x onerror=alert(1)>'], [1]],
    ),
  );
  const tooltip = made.option.tooltip as { formatter: (p: unknown) => string };
  expect(tooltip.formatter([{ dataIndex: 0, seriesIndex: 0 }])).not.toContain('<img');
});

describe('Parts of bars', () => {
  const columns = [column('q', 'group', 'text'), column('c', 'group', 'text'), column('n', 'figure', 'integer')];
  const values = [
    ['x', 'x', 'y'],
    ['web', 'desk', 'web'],
    [3, 1, 5],
  ];
  const made = (options: Record<string, string>, references: object[] = []) => {
    const given = input('bar', columns, values);
    return draw({ ...given, tile: { ...given.tile, options, references } as typeof given.tile });
  };
  const lengths = (drawing: ReturnType<typeof draw>) =>
    (drawing.option.series as { data: { value: number | null }[] }[]).map((s) => s.data.map((d) => d.value));
  test('are shares of their sum, with the figures themselves beside them', () => {
    const drawing = made({ parts: 'shares' });
    expect(lengths(drawing)).toEqual([
      [0.75, 1],
      [0.25, null],
    ]);
    expect(drawing.marks[0]?.text).toBe('x: web 3, desk 1');
    expect((drawing.option.xAxis as { max: number }).max).toBe(1);
  });
  test('lie as is said, whatever the measure, and stand where they are to', () => {
    const stacks = (drawing: ReturnType<typeof draw>) =>
      (drawing.option.series as { stack?: string }[]).map((s) => s.stack);
    expect(stacks(made({}))).toEqual(['all', 'all']);
    expect(stacks(made({ parts: 'side_by_side' }))).toEqual([undefined, undefined]);
    expect((made({ parts: 'laid_over' }).option.series as { barGap?: string }[])[0]?.barGap).toBe('-100%');
    expect([made({}).lying, made({ direction: 'upright' }).lying]).toEqual([true, false]);
  });
  test('have lines and bands at values, for which there is room', () => {
    const drawing = made({}, [
      { at: 40, to: null, title: 'limit' },
      { at: 1, to: 2, title: null },
    ]);
    const [first] = drawing.option.series as { markLine: { data: object[] }; markArea: { data: object[][] } }[];
    expect(first?.markLine.data[0]).toMatchObject({ xAxis: 40, label: { formatter: 'limit' } });
    expect(first?.markArea.data[0]?.map((e) => (e as { xAxis: number }).xAxis)).toEqual([1, 2]);
    expect((drawing.option.xAxis as { max: number }).max).toBeGreaterThanOrEqual(40);
  });
});

test('Where the axis of bars has room for figures that are not drawn, their lengths change and nothing else', () => {
  const of = (figures: number[], reach?: readonly number[]) =>
    draw(
      input('bar', [column('q', 'group', 'text'), column('n', 'figure', 'integer')], [['x', 'y'], figures], { reach }),
    );
  const high = of([900, 20]);
  const low = of([3, 20], high.reach);
  expect(high.reach).toEqual([0, 900]);
  expect([low.reach, low.bars?.still]).toEqual([high.reach, high.bars?.still]);
  expect(low.bars?.ends).toEqual([
    [
      [0, 3],
      [0, 20],
    ],
  ]);
  expect(of([3, 20]).reach).toEqual([0, 20]);
  expect(of([3, 2000], high.reach).reach).toEqual([0, 2000]);
});

test('Titles of lines that lie close to one another stand one above the other', () => {
  const given = input('bar', [column('q', 'group', 'text'), column('n', 'figure', 'integer')], [['x'], [6]]);
  const titled = (at: number, title: string) => ({ at, to: null, title, measure: null });
  const tops = (...references: object[]) => {
    const { option } = draw({ ...given, tile: { ...given.tile, references } as typeof given.tile });
    const [series] = option.series as { markLine: { data: { label: { distance: number } }[] } }[];
    return [
      series?.markLine.data.map((d) => Math.round((d.label.distance - 3) / (light.size + 4))),
      (option.grid as { top: number }).top,
    ];
  };
  expect(tops(titled(5, 'worth a look'), titled(4, 'mean of all'))).toEqual([[1, 0], 8 + 2 * (light.size + 4)]);
  expect(tops(titled(1, 'low'), titled(5, 'high'))).toEqual([[0, 0], 8 + light.size + 4]);
});

describe('Bars and lines in one picture', () => {
  const columns = [
    column('q', 'group', 'text'),
    { ...column('n', 'figure', 'integer'), format: { unit: 't', decimals: 0, factor: 1, symbols: null } },
    { ...column('share', 'figure', 'float'), format: { unit: '%', decimals: 1, factor: 100, symbols: null } },
  ] as unknown as Parameters<typeof input>[1];
  const made = (options: Record<string, string>) => {
    const given = input('bar', columns, [['x'], [4000], [0.25]]);
    return draw({ ...given, tile: { ...given.tile, options } as typeof given.tile });
  };
  test('stand upright, each measure at its side, with its unit at its own axis', () => {
    const { option, legend, lying, bars } = made({ 'marks.share': 'line', 'axes.share': 'right' });
    const series = option.series as { type: string; yAxisIndex?: number }[];
    expect(series.map((s) => [s.type, s.yAxisIndex])).toEqual([
      ['bar', undefined],
      ['line', 1],
    ]);
    const axes = option.yAxis as { name: string; max: number; position?: string }[];
    expect(axes.map((a) => [a.name, a.position])).toEqual([
      ['t', undefined],
      ['%', 'right'],
    ]);
    expect(axes[1]?.max).toBeLessThan(1);
    expect(legend?.map((e) => e.name)).toEqual(['n', 'share (right axis)']);
    expect([lying, bars]).toEqual([false, undefined]);
  });
  test('have the units at the names where one axis has both', () => {
    expect(made({ 'marks.share': 'line' }).legend?.map((e) => e.name)).toEqual(['n, t', 'share, %']);
  });
});
