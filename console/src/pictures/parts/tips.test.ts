import { expect, test } from 'vitest';
import type { TileInfo } from '../../api/client';
import { draw } from '../bar/draw';
import { tipsOf } from './drawing';
import { column, input } from './testing';

const columns = [
  column('vessel', 'group', 'text'),
  column('n', 'figure', 'integer'),
  column('rest', 'rest', 'boolean'),
  column('late', 'tip', 'integer'),
];
const values = [
  ['<Teal>', null],
  [10, 30],
  [false, true],
  [3, 4],
];
const of = (tip?: string) => {
  const i = input('bar', columns, values);
  return { ...i, tile: { ...i.tile, tip: tip ?? null } as TileInfo };
};

test('Further measures stand below the figure in a tip, and in what is read of the mark', () => {
  const tips = tipsOf(of());
  expect(tips.of(0, 'red', '<Teal>', 10, columns[1] as (typeof columns)[number])).toMatch(
    /&#60;Teal&#62;.*10.*late.*3/,
  );
  expect(draw(of()).marks.map((m) => m.text)).toEqual(['<Teal>: 10; late 3', 'all others: 30; late 4']);
});

test('A sentence of the developer stands in place of the figures, with what a line has in its braces and no markup of theirs', () => {
  const i = of('{vessel}: {late} of {n}, {hidden} <b>');
  expect(tipsOf(i).of(0, 'red', 'x', 1, columns[1] as (typeof columns)[number])).toContain(
    '&#60;Teal&#62;: 3 of 10, – &#60;b&#62;',
  );
  const { formatter } = draw(i).option.tooltip as { formatter: (p: object[]) => string };
  expect(formatter([{ dataIndex: 1, seriesIndex: 0 }])).toContain('all others: 4 of 30, – ');
  expect(draw(i).marks[1]?.text).toBe('all others: 30; all others: 4 of 30, – <b>');
});
