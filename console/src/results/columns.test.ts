import { expect, test } from 'vitest';
import type { ColumnInfo } from '../api/client';
import {
  asLine,
  type ColumnFilter,
  conditionsOf,
  filterKept,
  filterOf,
  inOrder,
  keptFilter,
  meeting,
  meets,
  saysNothing,
  sortValue,
} from './columns';

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

test('Lines come in the order of several columns, what is missing after what is there, and the rest of a top last of all', () => {
  const columns = [
    column('text', { name: 'a' }),
    column('integer', { name: 'b', names: { 1: 'two', 2: 'one' } }),
    column('boolean', { name: 'rest', role: 'rest' }),
    column('integer', { name: 'n', role: 'figure' }),
  ];
  const values = [
    ['x', 'y', 'x', null, null, 'y'],
    [1, 2, 2, 1, null, 1],
    [false, false, false, false, true, false],
    [5, null, 7, 1, 99, 5],
  ];
  const by = (...sorted: [string, boolean][]) =>
    inOrder(
      columns,
      values,
      sorted.map(([column, descending]) => ({ column, descending })),
    );
  expect(by()).toEqual([0, 1, 2, 3, 4, 5]);
  expect(by(['a', false])).toEqual([0, 2, 1, 5, 3, 4]);
  expect(by(['a', true], ['b', false])).toEqual([1, 5, 2, 0, 3, 4]);
  expect(by(['n', true])).toEqual([2, 0, 5, 3, 1, 4]);
  expect(by(['gone', true], ['n', false])).toEqual([3, 0, 5, 2, 1, 4]);
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

test('What the service is asked for leaves the very rows that would be left here', () => {
  /** The service's conditions, said again: see RowsWanted. */
  const meetsThere = (conditions: ReturnType<typeof conditionsOf>, v: number | string | boolean | null) =>
    conditions.every(({ is, value }) => {
      if (is === 'missing') return v === null;
      if (v === null) return false;
      if (is === 'equal') return String(v) === value;
      if (is === 'begins') return String(v).toLowerCase().startsWith(String(value).toLowerCase());
      if (is === 'contains') return String(v).toLowerCase().includes(String(value).toLowerCase());
      const bound = typeof v === 'number' ? Number(value) : String(value);
      return is === 'least' ? v >= bound : v < bound;
    });
  const whole = column('integer', { role: 'figure', format: { decimals: 0, factor: 1, unit: null } });
  const cases: [ColumnInfo, ColumnFilter, (number | string | boolean | null)[]][] = [];
  for (const least of [24.9, 25, 25.04, undefined])
    for (const most of [25, 25.06, 30, undefined])
      cases.push([share, { of: 'number', least, most }, [null, 0.2484, 0.2494, 0.2496, 0.2504, 0.2506, 0.2994, 0.31]]);
  for (const least of [-2, 2.5, 3]) cases.push([whole, { of: 'number', least, most: 3.9 }, [null, -3, -2, 2, 3, 4]]);
  const days: ColumnFilter = { of: 'date', from: '2025-02-01', to: '2025-02-28' };
  cases.push([column('date'), days, ['2025-01-31', '2025-02-01', '2025-02-28', '2025-03-01', null]]);
  cases.push([
    column('timestamp'),
    days,
    ['2025-01-31T23:59:00', '2025-02-01T00:00:00', '2025-02-28T23:59:00', '2025-03-01T00:00:00'],
  ]);
  cases.push([column('boolean'), { of: 'flag', is: false }, [true, false, null]]);
  cases.push([column('text'), { of: 'missing' }, ['', null]]);
  for (const how of ['begins', 'contains'] as const)
    cases.push([column('text'), { of: 'text', how, text: ' rea', members: [] }, ['Reach', 'North Reach', 'Bay', null]]);
  for (const [of, filter, values] of cases.filter(([, filter]) => !saysNothing(filter)))
    expect(
      values.filter((v) => meetsThere(conditionsOf(filter, of), v)),
      JSON.stringify(filter),
    ).toEqual(values.filter((v) => meets(filter, v, of)));
});

test('What a view keeps of a filter leaves the same lines, and none of a column whose values are of another kind by now', () => {
  const filters: [ColumnInfo, ColumnFilter, (number | string | boolean | null)[]][] = [
    [share, { of: 'number', least: 25 }, [0.2484, 0.25, null]],
    [share, { of: 'number', least: 25, most: 25 }, [0.2484, 0.25, 0.31]],
    [column('date'), { of: 'date', to: '2025-02-28' }, ['2025-02-01', '2025-03-01']],
    [column('boolean'), { of: 'flag', is: false }, [true, false, null]],
    [column('text'), { of: 'missing' }, ['x', null]],
    [column('text'), { of: 'text', how: 'begins', text: ' no ', members: ['South'] }, ['North', 'A no', null]],
    [column('text'), { of: 'text', how: 'contains', text: 'o', members: [] }, ['North', 'East']],
    [column('text'), { of: 'text', how: 'is', text: 'x', members: ['North', 'West'] }, ['North', 'East', 'West']],
  ];
  for (const [of, filter, values] of filters) {
    const kept = JSON.parse(JSON.stringify(keptFilter('c', filter)));
    const places = values.flatMap((v, i) => (meets(filter, v, of) ? [i] : []));
    expect(places.length).toBeGreaterThan(0);
    expect(meeting([of], [values], [kept], [...values.keys()]), JSON.stringify(filter)).toEqual(places);
    expect(meeting([of], [values], [{ ...kept, column: 'gone' }], [...values.keys()])).toEqual([...values.keys()]);
    const others = [column('boolean'), column('date'), column('text'), share].filter(
      (c) => filterOf(c) !== filterOf(of),
    );
    if (filter.of !== 'missing')
      expect(others.map((other) => filterKept(kept, other))).toEqual(others.map(() => undefined));
  }
});
