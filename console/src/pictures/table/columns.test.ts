import { expect, test } from 'vitest';
import type { ColumnInfo } from '../../api/client';
import { asLine, type ColumnFilter, filterOf, meets, saysNothing, sortValue } from './columns';

const column = (kind: string, more: object = {}) =>
  ({ name: 'c', title: 'C', role: 'group', kind, format: null, at: null, ...more }) as unknown as ColumnInfo;
const share = column('float', { role: 'figure', format: { decimals: 1, factor: 100, unit: '%' } });

test('A column is filtered as its values are read', () => {
  expect(
    [
      column('text'),
      column('integer', { names: { 1: 'one' } }),
      column('integer', { at: 'month_of_year' }),
      column('date'),
      column('boolean'),
      share,
    ].map(filterOf),
  ).toEqual(['text', 'text', 'text', 'date', 'flag', 'number']);
});

test('Values meet what is said of their column', () => {
  const text = (how: 'contains' | 'begins' | 'is', what: string): ColumnFilter => ({
    of: 'text',
    how,
    text: what,
    members: [what],
  });
  const words = column('text');
  expect(meets(text('contains', 'REACH '), 'North Reach', words)).toBe(true);
  expect(meets(text('begins', 'reach'), 'North Reach', words)).toBe(false);
  expect(meets(text('is', 'not given'), null, words)).toBe(true);
  // As it is written, in the unit that it is written in.
  expect([0.2496, 0.2494].map((v) => meets({ of: 'number', least: 25 }, v, share))).toEqual([true, false]);
  expect(meets({ of: 'number', most: 5 }, null, share)).toBe(false);
  const days: ColumnFilter = { of: 'date', from: '2025-02-01', to: '2025-02-28' };
  const at = ['2025-01-31T23:59:00', '2025-02-28T23:59:00', '2025-03-01T00:00:00'];
  expect(at.map((v) => meets(days, v, column('timestamp')))).toEqual([false, true, false]);
  expect(meets({ of: 'flag', is: false }, false, column('boolean'))).toBe(true);
  expect([text('contains', ' '), text('is', 'x'), { of: 'number' } as ColumnFilter].map(saysNothing)).toEqual([
    true,
    false,
    true,
  ]);
});

test('Lines are sorted by names where there are, and what is not given has no place among them', () => {
  const coded = column('integer', { names: { 1: 'zeta', 2: 'alpha' } });
  expect([1, 2, null].map((v) => sortValue(v, coded))).toEqual(['zeta', 'alpha', undefined]);
  expect(asLine(['a\tb', 'c\nd'])).toBe('a b\tc d');
});
