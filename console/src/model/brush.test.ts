import { describe, expect, test } from 'vitest';
import type { Value } from '../api/client';
import { type BrushCube, fold, prepare } from './brush';
import type { Selection } from './selections';

/** A generator with a seed, so that a failure can be seen again. */
function random(seed: number) {
  let state = seed;
  return (below: number) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 2 ** 32) * below);
  };
}

/** A cube of numbered days, in pictures of two sides or in one, by letters, with a sum that is missing here and there, and a count of rows. */
function cube(next: (below: number) => number, kind: string): BrushCube {
  const days = Array.from({ length: 1 + next(9) }, (_, i) => `2025-01-0${i + 1}`);
  const letters = ['a', 'b', null, 'd'].slice(0, 1 + next(4));
  const sides = next(2) === 0 ? ['p', null] : undefined;
  const lines = days.flatMap((_, d) => (sides ?? ['']).flatMap((__, s) => letters.map((___, l) => [d, s, l])));
  const cells = lines.filter(() => next(3) > 0);
  const column = (name: string, role: string) => ({ name, title: name, role, kind: 'decimal', format: null, at: null });
  const hasTop = next(3) === 0;
  const hasRest = hasTop && next(2) === 0;
  return {
    driverFields: sides ? 2 : 1,
    axes: [
      {
        members: days,
        at: 'day',
        spans: days.map((d, i) => [`${d}T00:00:00`, `2025-01-${String(i + 2).padStart(2, '0')}T00:00:00`]),
      },
      ...(sides ? [{ members: sides, at: null, spans: null }] : []),
      { members: letters, at: null, spans: null },
    ],
    cells: [0, ...(sides ? [1] : []), 2].map((axis) => cells.map((c) => c[axis])),
    parts: [
      { fold: kind, counts: false, scale: 2, values: cells.map(() => (next(4) === 0 ? null : next(2000) - 1000)) },
      { fold: 'sum', counts: true, scale: 0, values: cells.map(() => 1 + next(5)) },
    ],
    figures: [
      [{ do: 'part', part: 0, takes: 0, value: null, kind: 'decimal' }],
      [{ do: 'part', part: 1, takes: 0, value: null, kind: 'integer' }],
    ],
    order: [{ column: 0, descending: false }],
    top: hasTop ? { count: 2, rest: hasRest, ranks: letters.map((_, i) => i) } : null,
    totals: true,
    limit: 100,
    columns: [
      column('l', 'group'),
      ...(hasRest ? [column('rest', 'rest')] : []),
      column('s', 'figure'),
      column('n', 'figure'),
    ],
    restricted: false,
    reach: null,
    driverIsSpan: false,
    byMember: null,
    pairsAre: null,
    readAt: '',
  } as unknown as BrushCube;
}

describe('Cells of months and years', () => {
  const part = (fold: string, values: number[]) => ({ fold, counts: false, scale: 0, values });
  const column = (name: string, role: string) => ({
    name,
    title: name,
    role,
    kind: 'integer',
    format: null,
    at: null,
  });
  const made = {
    driverFields: 1,
    axes: [
      { members: ['a', 'b'], at: null, spans: null },
      { members: [11, 12], at: 'month_of_year', spans: null },
      {
        members: ['2024-01-01', '2025-01-01'],
        at: 'year',
        spans: [
          ['2024-01-01T00:00:00', '2025-01-01T00:00:00'],
          ['2025-01-01T00:00:00', '2026-01-01T00:00:00'],
        ],
      },
    ],
    cells: [
      [0, 0, 0, 1, 1],
      [0, 0, 1, 1, 1],
      [0, 1, 0, 0, 1],
    ],
    parts: [part('sum', [5, 1, 4, 4, 9]), { ...part('sum', [1, 1, 1, 1, 1]), counts: true }],
    figures: [[{ do: 'part', part: 0, takes: 0, value: null, kind: 'integer' }]],
    order: [
      { column: 0, descending: false },
      { column: 1, descending: false },
    ],
    byMember: { figure: 0, descending: true },
    top: null,
    totals: false,
    limit: 100,
    columns: [column('m', 'group'), column('y', 'group'), column('f', 'figure')],
    restricted: false,
    reach: [['2024-01-01T00:00:00', '2025-12-18T00:00:00']],
    driverIsSpan: false,
    pairsAre: 'month',
    readAt: '',
  } as unknown as BrushCube;
  const prepared = prepare(made);
  if (!prepared) throw new Error('too large');

  test('tell which month of which year is not whole, and order months by their figure over all years', () => {
    const all = fold(prepared, undefined);
    expect(all?.table.values).toEqual([
      [12, 12, 11, 11],
      ['2024-01-01', '2025-01-01', '2024-01-01', '2025-01-01'],
      [8, 9, 5, 1],
    ]);
    expect(all?.partialPairs).toEqual([[12, '2025-01-01']]);
    // Of a alone November is the greater.
    expect(fold(prepared, { members: [['a']] })?.table.values[0]).toEqual([11, 11, 12]);
    expect(fold(prepared, { members: [['a']] })?.partialPairs).toEqual([]);
  });

  test('of a top list tell which of the members picked on it have no rows', () => {
    const top = prepare({ ...made, byMember: null, top: { count: 1, rest: false, ranks: [0, 1] } } as BrushCube);
    const own = { members: [[11], [12], [3]] };
    expect(top && fold(top, { members: [['b']] }, own)?.absent).toEqual([[11], [3]]);
    expect(top && fold(top, undefined, { members: [[11]] })?.absent).toBeNull();
  });
});

const selectionOf = (next: (below: number) => number, made: BrushCube): Selection => {
  const [a, b] = [1 + next(9), 1 + next(9)];
  const [from, to] = [Math.min(a, b), Math.max(a, b) + 1];
  const end = (day: number) => `2025-01-${String(day).padStart(2, '0')}`;
  const isApart = made.driverFields === 2;
  const member = (day: number): Value[] => (isApart ? [end(day), next(2) === 0 ? 'p' : null] : [end(day)]);
  if (next(4) === 0) return { members: [member(a), member(b)], exclude: next(2) === 0 };
  return {
    members: [],
    range: { from: next(5) === 0 ? null : end(from), to: end(to) },
    ...(isApart ? { each: [undefined, ['p'], [null], ['p', null], ['other']][next(5)] } : {}),
    exclude: next(5) === 0,
  };
};

describe('Cells', () => {
  test.each(['sum', 'minimum'])(
    'add up to the same by running sums, one by one, and as a slow mind would: %s',
    (kind) => {
      for (let seed = 1; seed <= 400; seed++) {
        const next = random(seed);
        const made = cube(next, kind);
        const [quick, plain] = [prepare(made), prepare(made)];
        if (!quick || !plain) throw new Error('too large');
        plain.running = null;
        for (let tried = 0; tried < 5; tried++) {
          const selection = selectionOf(next, made);
          const [a, b] = [fold(quick, selection), fold(plain, selection)];
          expect(a, `seed ${seed} ${JSON.stringify(selection)}`).toEqual(b);
          if (made.top || !a) continue;
          // Slow: every cell whose day is meant, letter by letter.
          const days = made.axes[0]?.members as string[];
          const [sums, counts] = made.parts.map((part) => part.values as (number | null)[]);
          const isApart = made.driverFields === 2;
          const isMeant = (day: string, side: Value) => {
            const inRange =
              selection.range !== undefined &&
              (selection.range.from === null || day >= String(selection.range.from)) &&
              (selection.range.to === null || day < String(selection.range.to)) &&
              (!isApart || selection.each?.includes(side) !== false);
            const isMember = selection.members.some(([m, of]) => m === day && (!isApart || of === side));
            return (inRange || isMember) !== (selection.exclude ?? false);
          };
          const sideOf = (i: number) =>
            isApart ? (made.axes[1]?.members[made.cells[1]?.[i] as number] as Value) : null;
          const meant = (made.cells[0] as number[]).flatMap((d, i) =>
            isMeant(days[d] as string, sideOf(i)) ? [i] : [],
          );
          const slow = ((made.axes.at(-1)?.members ?? []) as (string | null)[]).flatMap((letter, l) => {
            const cells = meant.filter((i) => made.cells.at(-1)?.[i] === l);
            if (cells.length === 0) return [];
            const known = cells.map((i) => sums?.[i] ?? null).filter((v) => v !== null);
            const figure =
              known.length === 0 ? null : kind === 'sum' ? known.reduce((x, y) => x + y, 0) : Math.min(...known);
            const rows = cells.reduce((n, i) => n + (counts?.[i] ?? 0), 0);
            return [[letter, figure === null ? null : figure / 100, rows]];
          });
          const mine = (a.table.values[0] ?? []).map((_, r) => a.table.values.map((v) => v[r]));
          const byLetter = (x: unknown[], y: unknown[]) =>
            x[0] === null ? 1 : y[0] === null ? -1 : String(x[0]) < String(y[0]) ? -1 : 1;
          expect(mine.sort(byLetter), `seed ${seed} ${JSON.stringify(selection)}`).toEqual(slow.sort(byLetter));
        }
      }
    },
  );
});
