import { expect, test } from 'vitest';
import { asPublished, hiddenOf, settingOf, shownIn, tableOf } from './columnActs';

const columns = ['a', 'b', 'c', 'd'];

test('Columns that stay in sight come first, then those that are put in order, and hidden ones are left out', () => {
  expect(shownIn(asPublished, columns)).toEqual(columns);
  expect(shownIn({ ...asPublished, order: ['d', 'gone', 'b'], hidden: ['c'] }, columns)).toEqual(['d', 'b', 'a']);
  expect(shownIn({ ...asPublished, order: ['d', 'b'], pinned: ['c'] }, columns)).toEqual(['c', 'd', 'b', 'a']);
});

test('A table of other columns than were hidden is never without any', () => {
  expect(hiddenOf({ ...asPublished, hidden: ['a', 'b'] }, ['a', 'b'])).toEqual([]);
  expect(hiddenOf({ ...asPublished, hidden: ['a', 'gone'] }, columns)).toEqual(['a']);
});

test('A setting is the same after a view has kept it', () => {
  const setting = {
    order: ['b'],
    hidden: ['c'],
    pinned: ['a'],
    widths: { b: 120 },
    sorted: [{ column: 'c', descending: true }],
    filters: [{ column: 'd', least: 2 }],
  };
  expect(settingOf(tableOf(setting))).toEqual(setting);
  expect(settingOf(null)).toBe(asPublished);
});
