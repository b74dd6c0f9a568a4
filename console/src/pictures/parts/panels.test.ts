import { describe, expect, test } from 'vitest';
import type { TileInfo } from '../../api/client';
import { draw } from '../line/draw';
import type { DrawingInput } from './drawing';
import { columnsIn, drawnFor, inPart } from './Panels';
import { panelsOf } from './panelsOf';
import { commonScale } from './scale';
import { column, input } from './testing';

const columns = [
  column('month', 'group', 'integer'),
  column('area', 'group', 'text'),
  column('late', 'figure', 'integer'),
] as DrawingInput['table']['columns'];
const values = [
  [1, 1, 2, 2, 2],
  ['b', 'a', 'b', 'a', null],
  [10, 20, 30, 40, 50],
];

describe('One picture for each member', () => {
  const panels = panelsOf({ columns, values }, 1);
  test('has the lines of its member, members in reading order and what is not given last', () => {
    expect(panels.map((p) => p.member)).toEqual(['a', 'b', null]);
    expect(panels[0]?.table.columns.map((c) => c.name)).toEqual(['month', 'late']);
    expect(panels.map((p) => p.table.values)).toEqual([
      [
        [1, 2],
        [20, 40],
      ],
      [
        [1, 2],
        [10, 30],
      ],
      [[2], [50]],
    ]);
  });
  test('shows the same part of an axis as the others, though nothing of it may lie there', () => {
    const later = panels.map((p) => inPart(p, { members: [1, 2], shown: [1, 1] }));
    expect(later.map((p) => p.table.values)).toEqual([
      [[2], [40]],
      [[2], [30]],
      [[2], [50]],
    ]);
    const [, , none] = panels.map((p) => inPart(p, { members: [1, 2], shown: [0, 0] }));
    expect(none?.table.values).toEqual([[], []]);
    expect(draw({ ...input('line', [], []), ...none }).marks).toEqual([]);
    expect(panels.map((p) => inPart(p, { members: [1, 2], shown: [0, 1] }))).toEqual(panels);
  });
  test('has marks of its member, and is faint where only others are picked', () => {
    const [a, b] = panels;
    const opacities = (panel: typeof a, members: (number | string)[][]) => {
      const drawing = drawnFor(
        draw,
        panel?.member ?? null,
      )({ ...input('line', [], []), table: panel?.table ?? { columns: [], values: [] }, selection: { members } });
      const [series] = drawing.option.series as { data: { itemStyle: { opacity: number } }[] }[];
      return [drawing.marks.map((m) => m.member), series?.data.map((d) => d.itemStyle.opacity)];
    };
    expect(opacities(a, [[2, 'a']])).toEqual([
      [
        [1, 'a'],
        [2, 'a'],
      ],
      [0.3, 1],
    ]);
    expect(opacities(b, [[2, 'a']])[1]).toEqual([0.3, 0.3]);
  });
  test('gets as much room as it can', () => {
    expect([columnsIn(600, 400, 4), columnsIn(1200, 200, 4), columnsIn(300, 800, 4), columnsIn(120, 400, 3)]).toEqual([
      2, 4, 1, 1,
    ]);
  });
});

test('Two states beside one another have a scale for the figures of each picture, and not for all of them added up', () => {
  const tile = { repeats: true, by: [{}, {}], options: { parts: 'stacked' } } as unknown as TileInfo;
  expect(commonScale(tile, true, { columns, values }, { columns, values })).toEqual([0, 50]);
  expect(commonScale({ ...tile, repeats: false }, true, { columns, values })?.[1]).toBeGreaterThanOrEqual(120);
});
