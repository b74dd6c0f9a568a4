import { describe, expect, test } from 'vitest';
import { light } from '../../look/tokens';
import { draw as sankey } from '../sankey/draw';
import { draw as sunburst } from '../sunburst/draw';
import { draw as treemap } from '../treemap/draw';
import type { Drawing } from './drawing';
import { column, input } from './testing';
import { treeOf } from './tree';

const columns = [
  { ...column('area', 'group', 'text'), places: { North: 0, South: 1 } },
  column('route', 'group', 'text'),
  column('rest', 'rest', 'boolean'),
  column('carried', 'figure', 'integer'),
];
const values = [
  ['North', 'North', 'South', 'South', null],
  ['a', 'b', 'c', 'd', null],
  [false, false, false, false, true],
  [5, 3, 2, -1, 4],
];
const of = (picture: string, more = {}) => input(picture, columns, values, more);
interface Made {
  name: string;
  value: number;
  marks: number[];
  itemStyle: { color: string; opacity: number };
  children?: Made[];
}
const nodesOf = (drawing: Drawing) => (drawing.option.series as { data: Made[] }[])[0]?.data ?? [];

describe('A tree of members', () => {
  test('adds up to its parents, has the rest by itself, and leaves out and tells what has no part in a whole', () => {
    const tree = treeOf(of('treemap'));
    expect(tree.nodes.map((n) => [n.name, n.value, n.children?.map((c) => c.name)])).toEqual([
      ['North', 8, ['a', 'b']],
      ['South', 2, ['c']],
      ['all others', 4, undefined],
    ]);
    expect([tree.total, tree.leftOut]).toEqual([14, 1]);
    expect(tree.marks.map((m) => m.text)).toEqual(['North · a: 5', 'North · b: 3', 'South · c: 2', 'all others: 4']);
    // The place of each leaf where the library keeps the tree in order, its root first.
    expect(tree.marks.map((m) => m.data)).toEqual([2, 3, 5, 6]);
  });
  test.each([
    ['treemap', treemap],
    ['sunburst', sunburst],
  ] as const)('is drawn as a %s whose groups stand for all of their members, the picked strong', (name, draw) => {
    const drawing = draw(of(name, { selection: { members: [['North', 'b']] } }));
    const [north, south, rest] = nodesOf(drawing);
    expect([north?.marks, south?.marks, rest?.marks]).toEqual([[0, 1], [2], [3]]);
    expect(north?.children?.map((c) => c.itemStyle.opacity)).toEqual([0.3, 1]);
    expect([north?.itemStyle.color, rest?.itemStyle.color]).toEqual([light.series[0], light.rest]);
    expect(drawing.note).toBe('1 figure is not above zero and has no part here.');
  });
});

test('Flows join the members of two fields, also where both sides have one of the same name', () => {
  const drawing = sankey(
    input(
      'sankey',
      [column('from', 'group', 'text'), column('to', 'group', 'text'), column('n', 'figure', 'integer')],
      [
        ['a', 'a', 'b'],
        ['a', 'b', 'b'],
        [3, 2, null],
      ],
      { selection: { members: [['a', 'b']] } },
    ),
  );
  const [series] = drawing.option.series as [
    { data: Made[]; links: (Made & { source: string; target: string; lineStyle: { opacity: number } })[] },
  ];
  expect(series.data.map((n) => n.marks)).toEqual([[0, 1], [0], [1]]);
  expect(series.links.map((l) => l.value)).toEqual([3, 2]);
  expect(series.links.every((l) => l.source !== l.target)).toBe(true);
  expect(series.links[0]?.lineStyle.opacity).toBeLessThan(series.links[1]?.lineStyle.opacity ?? 0);
  expect(drawing.marks.map((m) => m.text)).toEqual(['a to a: 3', 'a to b: 2']);
  expect(drawing.note).toContain('1 figure');
});

test('Labels below their parents add up from below, with what a label has of its own beside them', () => {
  const tree = treeOf(
    input(
      'treemap',
      [column('centre', 'group', 'text'), column('above', 'group', 'text'), column('cost', 'figure', 'integer')],
      [
        ['all', 'a', 'a1', 'b', 'lost'],
        [null, 'all', 'a', 'all', null],
        [1, 2, 4, 8, null],
      ],
      { tile: { ...input('treemap', [], []).tile, options: { parent: 'above' } } },
    ),
  );
  const [all] = tree.nodes;
  expect([all?.name, all?.value, tree.total, tree.depth, tree.leftOut]).toEqual(['all', 15, 15, 3, 0]);
  expect(all?.children?.map((c) => [c.name, c.value])).toEqual([
    ['itself', 1],
    ['a', 6],
    ['b', 8],
  ]);
  // All of what is below a label is picked with it, each by its own label.
  expect(all?.children?.[1]?.marks.map((m) => tree.marks[m]?.member)).toEqual([['a'], ['a1']]);
  expect(new Set(all?.children?.map((c) => c.colour)).size).toBe(3);
});
