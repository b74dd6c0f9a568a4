import { expect, test } from 'vitest';
import { bandsOf, blocksOf, type PaperTile, placeOfFigure } from './paperData';

test('The total of a figure is its own, also where a column tells the rest of a top apart', () => {
  const columns = ['group', 'rest', 'figure', 'figure', 'tip'].map((role) => ({ role }));
  expect([2, 3, 4].map((at) => placeOfFigure(columns, at))).toEqual([0, 1, 2]);
});

test('What has no room beside one another goes on in blocks of about the same length, none lost', () => {
  expect(blocksOf([1, 2, 3, 4, 5, 6, 7], 4)).toEqual([
    [1, 2, 3, 4],
    [5, 6, 7],
  ]);
  expect(blocksOf([1, 2, 3], 0)).toEqual([[1], [2], [3]]);
  expect(blocksOf([1, 2, 3], 9)).toEqual([[1, 2, 3]]);
});

test('Tiles that overlap in height are one band, which no page breaks', () => {
  const at = (name: string, row: number, height: number) =>
    ({ tile: { name, place: { column: 0, row, width: 6, height } } }) as PaperTile;
  const bands = bandsOf([at('c', 4, 2), at('a', 0, 2), at('b', 1, 3), at('d', 6, 1)]);
  expect(bands.map((b) => [b.from, b.tiles.map((t) => t.tile.name)])).toEqual([
    [0, ['a', 'b']],
    [4, ['c']],
    [6, ['d']],
  ]);
});
