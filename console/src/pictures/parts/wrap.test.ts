import { expect, test } from 'vitest';
import { wrapped } from './wrap';

test('Names are broken between words where lines have room, cut where they have none, and left out where little would be left', () => {
  // A letter is 5.6 pixels at a size of 10.
  expect(wrapped('Lantern Sound', 80, 1, 10)).toBe('Lantern Sound');
  expect(wrapped('Lantern Sound', 50, 2, 10)).toBe('Lantern\nSound');
  expect(wrapped('Lantern Sound', 50, 1, 10)).toBe('Lantern…');
  expect(wrapped('Northern approaches and outer banks', 60, 2, 10)).toBe('Northern\napproache…');
  expect(wrapped('Lantern Sound', 50, 0, 10)).toBe('');
  expect(wrapped('Lantern Sound', 12, 3, 10)).toBe('');
});
