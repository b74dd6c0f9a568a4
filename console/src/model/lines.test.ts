import { expect, test } from 'vitest';
import { areAlike, type Lines, linesInWords, linesOf, visitWith, withLines } from './lines';

const up = { column: 'a', descending: false };
const down = { column: 'a', descending: true, under: 'North' };
const some = { column: 'b', least: 2 };
const ofView: Lines = { sorted: [up], filters: [some] };

test('Lines are alike whatever is left out of what says nothing', () => {
  const sent: Lines = {
    sorted: [{ under: null, descending: false, column: 'a' }],
    filters: [{ column: 'b', least: 2, most: null, among: null }],
  };
  expect(areAlike(ofView, sent)).toBe(true);
  expect(areAlike({ ...sent, sorted: [down] }, sent)).toBe(false);
  expect(areAlike({ ...sent, filters: [{ column: 'b', least: 3 }] }, sent)).toBe(false);
  expect(areAlike(linesOf(null), { sorted: [], filters: [] })).toBe(true);
});

test('A visit says only what the view does not', () => {
  const sorted = visitWith(undefined, { sorted: [down] }, ofView);
  expect(sorted).toEqual({ sorted: [down] });
  const both = visitWith(sorted, { filters: [] }, ofView);
  expect(both).toEqual({ sorted: [down], filters: [] });
  expect(visitWith(both, { sorted: [up] }, ofView)).toEqual({ filters: [] });
  expect(visitWith({ filters: [] }, { filters: [some] }, ofView)).toBeUndefined();
});

test('Columns with their lines are nothing where they say nothing, and lines are told in words', () => {
  expect(withLines(null, { sorted: [], filters: [] })).toBeNull();
  expect(withLines({ hidden: ['c'], sorted: [up] }, { sorted: [], filters: [] })?.hidden).toEqual(['c']);
  const titleOf = (name: string) => name.toUpperCase();
  expect(linesInWords({ sorted: [up, down], filters: [some] }, titleOf)).toBe(
    'sorted by A ↑, A of North ↓, filtered by B',
  );
  expect(linesInWords(linesOf(null), titleOf)).toBe('');
});
