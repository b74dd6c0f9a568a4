import { expect, test } from 'vitest';
import { column } from '../parts/testing';
import { type Course, inWords, piecesOf } from './SmallCourse';

const course: Course = {
  as: 'line',
  figure: column('n', 'figure', 'integer'),
  along: column('month', 'group', 'date', 'month'),
  periods: ['2025-01-01', '2025-02-01', '2025-03-01', '2025-04-01'],
  lines: [],
  isCut: false,
};

test('A small picture says in words where it begins, ends, and turns', () => {
  expect(inWords(course, [3, null, 9, 4])).toBe(
    'from 3 in Jan 2025 to 4 in Apr 2025; least 3 in Jan 2025, greatest 9 in Mar 2025',
  );
  expect(inWords(course, [null, 5, null, null])).toBe('5 in Feb 2025');
  expect(inWords(course, [null, null])).toBe('no figures');
});

test('A line has gaps where a period has no rows, and a dot for one that stands alone', () => {
  const pieces = piecesOf(
    [1, 2, null, 3, null, null],
    (i) => i,
    (v) => v,
  );
  expect(pieces).toEqual(['0.0,1.0 1.0,2.0', '3.0,3.0 3.0,3.0']);
});
