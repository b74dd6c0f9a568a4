import { describe, expect, test } from 'vitest';
import type { ColumnInfo, Schemas, Value } from '../../api/client';
import { type Cross, crossOf, keptSort, leaves, rowKey, seen, sortKept } from './cross';

const column = (name: string, role: string) => ({ name, title: name, role, kind: 'text' }) as unknown as ColumnInfo;
const table = (groups: string[], rows: Value[][]): Schemas['TableInfo'] => {
  const columns = [...groups.map((g) => column(g, 'group')), column('n', 'figure')];
  return { columns, values: columns.map((_, c) => rows.map((r) => r[c] ?? null)) };
};
const subtotals = [
  {
    down: 0,
    isAcross: true,
    table: table(
      ['q'],
      [
        ['q1', 6],
        ['q2', 9],
      ],
    ),
  },
  { down: 0, isAcross: false, table: table([], [[15]]) },
  {
    down: 1,
    isAcross: true,
    table: table(
      ['a', 'q'],
      [
        ['x', 'q1', 3],
        ['x', 'q2', 9],
        ['y', 'q1', 3],
      ],
    ),
  },
  {
    down: 1,
    isAcross: false,
    table: table(
      ['a'],
      [
        ['x', 12],
        ['y', 3],
      ],
    ),
  },
  {
    down: 2,
    isAcross: false,
    table: table(
      ['a', 'b'],
      [
        ['x', 'k', 10],
        ['x', null, 2],
        ['y', 'k', 3],
      ],
    ),
  },
];
const lines = table(
  ['a', 'b', 'q'],
  [
    ['x', 'k', 'q1', 1],
    ['x', 'k', 'q2', 9],
    ['x', null, 'q1', 2],
    ['y', 'k', 'q1', 3],
  ],
);
const cross = crossOf(lines, subtotals) as Cross;
const paths = (rows: { path: Value[] }[]) => rows.map((r) => r.path.join('/'));

describe('A cross table', () => {
  test('has levels down in the order of their subtotals, members across, and the figures where they meet', () => {
    expect(paths(seen(cross, undefined, new Set()))).toEqual(['x', 'x/k', 'x/', 'y', 'y/k']);
    expect(cross.columns.map((c) => [c.member, c.totals[0]])).toEqual([
      ['q1', 6],
      ['q2', 9],
    ]);
    expect([cross.cell(['x', 'k'], 'q2'), cross.cell(['x'], 'q1'), cross.cell(['y'], 'q2')]).toEqual([
      [9],
      [3],
      undefined,
    ]);
    expect(cross.total).toEqual([15]);
    expect(paths(cross.rows.flatMap(leaves))).toEqual(['x/k', 'x/', 'y/k']);
  });
  test('folds, and sorts those beside one another by a member across or by all', () => {
    const [x] = cross.rows;
    expect(paths(seen(cross, undefined, new Set(x ? [rowKey(x)] : [])))).toEqual(['x', 'y', 'y/k']);
    const by = (member: Value, down: boolean) => seen(cross, { member: { value: member }, figure: 0, down }, new Set());
    expect(paths(by('q1', true))).toEqual(['x', 'x/', 'x/k', 'y', 'y/k']);
    // What has no figure comes last, whichever way.
    expect(paths(by('q2', false))).toEqual(['x', 'x/k', 'x/', 'y', 'y/k']);
    expect(paths(seen(cross, { figure: 0, down: false }, new Set()))).toEqual(['y', 'y/k', 'x', 'x/', 'x/k']);
  });
  test('is sorted again as a view has kept it, and not by what is not there', () => {
    const sorts = [
      { member: { value: 'q2' }, figure: 0, down: true },
      { member: undefined, figure: 0, down: false },
    ];
    for (const sort of sorts) expect(sortKept(keptSort(sort, cross), cross)).toEqual(sort);
    expect(keptSort(sorts[0] as (typeof sorts)[0], cross)).toEqual({ column: 'n', descending: true, under: 'q2' });
    for (const gone of [undefined, { column: 'm' }, { column: 'n', under: 'q9' }])
      expect(sortKept(gone && { descending: true, ...gone }, cross)).toBeUndefined();
  });
});
