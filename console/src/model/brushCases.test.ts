import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { type BrushCube, fold, prepare } from './brush';

type Cell = {
  kind: string | null;
  year?: number | null;
  sum: number | null;
  count: number;
  rows: number;
  least: number | null;
};
interface Case {
  groups: ('kind' | 'year')[];
  figures: string[];
  top: { count: number; rest: boolean } | null;
  order: { by: string; descending: boolean }[];
  limit: number;
  cells: Cell[];
  lines: number;
  expected: (string | number | boolean | null)[][];
}

const cases = JSON.parse(readFileSync(new URL('../../../tests/fold-cases.json', import.meta.url), 'utf8')) as Case[];

const step = (what: string, part: number, takes = 0) => ({ do: what, part, takes, value: null, kind: 'decimal' });
const steps: Record<string, unknown> = {
  total: [step('part', 0)],
  mean: [step('average', 0, 1)],
  least: [step('part', 2)],
  rows: [step('part', 3)],
};

/** The members of a group as the service sends them: in order, missing last. */
const members = (item: Case, group: 'kind' | 'year') =>
  [...new Set(item.cells.map((c) => c[group] ?? null))].sort((a, b) =>
    a === null ? 1 : b === null ? -1 : a < b ? -1 : 1,
  );

function cubeOf(item: Case): BrushCube {
  const axes = item.groups.map((g) => members(item, g));
  const hundredths = (v: number | null) => (v === null ? null : Math.round(v * 100));
  const part = (foldBy: string, counts: boolean, scale: number, values: (number | null)[]) => ({
    fold: foldBy,
    counts,
    scale,
    values,
  });
  const columnOf = (name: string) => {
    const group = item.groups.indexOf(name as 'kind');
    return group >= 0 ? group : item.groups.length + (item.top?.rest ? 1 : 0) + item.figures.indexOf(name);
  };
  return {
    driverFields: 1,
    axes: [{ members: ['all'], at: null, spans: null }, ...axes.map((m) => ({ members: m, at: null, spans: null }))],
    cells: [
      item.cells.map(() => 0),
      ...item.groups.map((g, i) => item.cells.map((c) => (axes[i] as unknown[]).indexOf(c[g] ?? null))),
    ],
    parts: [
      part(
        'sum',
        false,
        2,
        item.cells.map((c) => hundredths(c.sum)),
      ),
      part(
        'sum',
        true,
        0,
        item.cells.map((c) => c.count),
      ),
      part(
        'minimum',
        false,
        2,
        item.cells.map((c) => hundredths(c.least)),
      ),
      part(
        'sum',
        true,
        0,
        item.cells.map((c) => c.rows),
      ),
    ],
    figures: item.figures.map((f) => steps[f]),
    order: item.order.map((o) => ({ column: columnOf(o.by), descending: o.descending })),
    top: item.top && { ...item.top, ranks: (axes[0] ?? []).map((_, i) => i) },
    totals: false,
    limit: item.limit,
    columns: [],
    restricted: false,
    reach: null,
    driverIsSpan: false,
    byMember: null,
    pairsAre: null,
    readAt: '',
  } as unknown as BrushCube;
}

test.each(cases.map((item, number) => [number, item] as const))(
  'the console adds cells up as the service does: case %i',
  (_, item) => {
    const folded = fold(prepare(cubeOf(item)) as NonNullable<ReturnType<typeof prepare>>, undefined);
    expect(folded?.lines).toBe(item.lines);
    const values = folded?.table.values as (string | number | boolean | null)[][];
    const rows = item.expected.map((_, r) => values.map((column) => column[r]));
    rows.forEach((row, r) => {
      row.forEach((value, c) => {
        const wanted = item.expected[r]?.[c];
        if (typeof wanted === 'number') expect(value).toBeCloseTo(wanted, 9);
        else expect(value).toBe(wanted);
      });
    });
    expect(values[0]?.length).toBe(item.expected.length);
  },
);
