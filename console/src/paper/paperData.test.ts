import { expect, test } from 'vitest';
import { bandsOf, blocksOf, type PaperTile, placeOfFigure, spread } from './paperData';

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

test('What stays of a band has the room of what was taken out of it, and nothing stands on anything else', () => {
  const at = (column: number, width: number, row = 0, height = 2) =>
    ({ tile: { name: 'a', place: { column, row, width, height } } }) as PaperTile;
  const spreadOut = (...tiles: PaperTile[]) =>
    spread({ from: 0, tiles }).tiles.map(({ tile: { place } }) => [place.column, place.width]);
  // Three of four that stood beside one another, whichever was taken out.
  const thirds = [
    [0, 4],
    [4, 4],
    [8, 4],
  ];
  expect(spreadOut(at(3, 3), at(6, 3), at(9, 3))).toEqual(thirds);
  expect(spreadOut(at(0, 3), at(6, 3), at(9, 3))).toEqual(thirds);
  // What stands below others keeps their edges.
  expect(spreadOut(at(4, 8, 0), at(4, 4, 2), at(8, 4, 2))).toEqual([
    [0, 12],
    [0, 6],
    [6, 6],
  ]);
  expect(spreadOut(at(0, 5), at(5, 7))).toEqual([
    [0, 5],
    [5, 7],
  ]);
  expect(spreadOut()).toEqual([]);
  // Of any tiles: none gets narrower, and those that stood apart stand apart.
  let seed = 7;
  const random = (below: number) => {
    seed = (seed * 48271) % 2147483647;
    return seed % below;
  };
  for (let n = 0; n < 500; n++) {
    const tiles = Array.from({ length: 1 + random(4) }, () => {
      const column = random(12);
      return at(column, 1 + random(12 - column));
    });
    const after = spreadOut(...tiles);
    tiles.forEach(({ tile: { place } }, i) => {
      const [column = -1, width = -1] = after[i] ?? [];
      expect(width).toBeGreaterThanOrEqual(place.width);
      expect(column + width).toBeLessThanOrEqual(12);
      tiles.forEach(({ tile: other }, j) => {
        if (other.place.column >= place.column + place.width)
          expect(after[j]?.[0]).toBeGreaterThanOrEqual(column + width);
      });
    });
  }
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
