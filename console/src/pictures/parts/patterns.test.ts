import { expect, test } from 'vitest';
import { contrast, light } from '../../look/tokens';
import { draw } from '../bar/draw';
import { draw as lines } from '../line/draw';
import { patternOf } from './patterns';
import { column, input } from './testing';

const columns = [column('month', 'group', 'text'), column('area', 'group', 'text'), column('n', 'figure', 'integer')];
const areas = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'];
const values = [areas.map(() => 'Jan'), areas, areas.map((_, i) => i + 1)];

test('Where colour does not tell series apart, eight have each a pattern, a stroke and a shape of their own', () => {
  const all = areas.map((_, i) => patternOf(contrast, i));
  for (const part of ['decal', 'swatch', 'dash', 'symbol'] as const)
    expect(new Set(all.map((p) => JSON.stringify(p?.[part]))).size).toBe(8);
  expect(patternOf(light, 3)).toBeUndefined();
});

test('A series keeps its pattern when others are hidden, and its legend shows the same', () => {
  const i = input('bar', columns, values, { tokens: contrast, hidden: new Set(['a', 'b']) });
  const { series } = draw(i).option as { series: { name: string; itemStyle: { decal: object } }[] };
  expect(series[0]).toMatchObject({ name: 'c', itemStyle: { decal: patternOf(contrast, 2)?.decal } });
  expect(draw(i).legend?.[2]).toMatchObject({ name: 'c', pattern: patternOf(contrast, 2), mark: undefined });
  expect(lines(i).legend?.[2]).toMatchObject({ mark: 'line' });
  expect(draw({ ...i, tokens: light }).legend?.[2]?.pattern).toBeUndefined();
});
