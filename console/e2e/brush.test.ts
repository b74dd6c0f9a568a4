import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { DashboardPage, Schemas, TileInfo, TileResult, Value } from '../src/api/client';
import { fold, prepare } from '../src/model/brush';
import { nextPeriod } from '../src/model/periods';
import { asked, type Selection, type Selections } from '../src/model/selections';
import { sameTable } from '../src/model/tileState';
import { Demo } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo.stop());

/** A generator with a seed, so that a failure can be seen again. */
function random(seed: number) {
  let state = seed;
  return (below: number) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 2 ** 32) * below);
  };
}

type Row = { tile: string } & Record<string, unknown>;

describe('The brush index', () => {
  test('answers every pick on every tile as the database does, cell for cell', async () => {
    const seed = Number(process.env.WEIR_SEED ?? Date.now() % 1_000_000);
    const next = random(seed);
    const outcome = { equal: 0, asked: 0 };
    for (const account of ['director', 'north-ports', 'auditor']) {
      const client = await demo.client(account);
      const lines = async <T extends Row>(path: string, body: unknown): Promise<T[]> => {
        const response = await client(path, body);
        expect(response.status, `${path} ${JSON.stringify(body)}`).toBe(200);
        return (await response.text())
          .split('\n')
          .filter(Boolean)
          .map((l) => JSON.parse(l) as T);
      };
      for (const dashboard of ['network', 'punctuality', 'tickets']) {
        const found = await client(`/api/dashboards/${dashboard}`);
        if (found.status !== 200) continue;
        const first = (await found.json()) as DashboardPage;
        for (let round = 0; round < Number(process.env.WEIR_ROUNDS ?? 5); round++) {
          // Each time drawn by other choices, where there are any.
          const set = Object.fromEntries(
            first.parameters
              .filter((p) => p.presents && p.choices && next(2) === 0)
              .map((p) => [p.name, [p.choices?.[next(p.choices.length)]?.value ?? '']]),
          );
          const viewing = { parameters: set };
          const drawn = await client(`/api/dashboards/${dashboard}?set=${encodeURIComponent(JSON.stringify(set))}`);
          const page = (await drawn.json()) as DashboardPage;
          const tiles = page.tabs.flatMap((t) => t.tiles).filter((t) => t.dataset);
          const results = await lines<TileResult & Row>(`/api/dashboards/${dashboard}/results`, { viewing });
          const shown = new Map(results.map((r) => [r.tile, r]));
          const pickable = tiles.filter(
            (t) => t.pick !== 'none' && t.pick !== 'text' && (shown.get(t.name)?.table?.values[0]?.length ?? 0) > 0,
          );
          const driver = pickable[next(pickable.length)] as TileInfo;
          const others: Selections = {};
          for (const other of pickable.filter((t) => t !== driver && next(4) === 0))
            others[other.name] = pick(other, shown.get(other.name), next);
          const cubes = await lines<Schemas['BrushLine'] & Row>(
            `/api/dashboards/${dashboard}/tiles/${driver.name}/brush`,
            { selections: asked(others), viewing },
          );
          for (let tried = 0; tried < 4; tried++) {
            const selection = pick(driver, shown.get(driver.name), next);
            const selections = { ...others, [driver.name]: selection };
            const answers = await lines<TileResult & Row>(`/api/dashboards/${dashboard}/results`, {
              tiles: cubes.map((c) => c.tile),
              selections: asked(selections),
              viewing,
            });
            for (const cube of cubes) {
              const prepared = cube.cube ? prepare(cube.cube) : undefined;
              const mine = prepared && fold(prepared, selection);
              const theirs = answers.find((a) => a.tile === cube.tile) as TileResult;
              if (!mine) {
                outcome.asked++;
                continue;
              }
              const said = `seed ${seed}, ${account}, ${dashboard}, ${JSON.stringify(set)} ${driver.name} → ${cube.tile}, ${JSON.stringify(selections)}`;
              if (!sameTable({ ...theirs, ...mine } as TileResult, theirs)) {
                expect({ said, ...mine.table, lines: mine.lines, partial: mine.partial, totals: mine.totals }).toEqual({
                  said,
                  ...theirs.table,
                  lines: theirs.lines,
                  partial: theirs.partial,
                  totals: theirs.totals,
                });
              }
              outcome.equal++;
            }
          }
        }
      }
    }
    // Most are answered by the page; some can't be, such as medians and changes on the period before.
    expect(outcome.equal, JSON.stringify(outcome)).toBeGreaterThan(200);
    expect(outcome.asked).toBeGreaterThan(15);
  }, 600_000);
});

/** The members that a tile shows, its rest left out. */
function members(result: TileResult | undefined): Value[][] {
  if (!result?.table) return [];
  const { columns, values } = result.table;
  const groups = columns.flatMap((c, i) => (c.role === 'group' ? [i] : []));
  const rest = columns.findIndex((c) => c.role === 'rest');
  return Array.from({ length: values[0]?.length ?? 0 }, (_, row) => row)
    .filter((row) => rest < 0 || values[rest]?.[row] !== true)
    .map((row) => groups.map((g) => values[g]?.[row] as Value));
}

function pick(tile: TileInfo, result: TileResult | undefined, next: (below: number) => number): Selection {
  const all = [
    ...new Map(
      members(result).map((m) => [JSON.stringify(m.slice(0, tile.by.length)), m.slice(0, tile.by.length)]),
    ).values(),
  ];
  const some = () =>
    Array.from({ length: 1 + next(tile.pick === 'one' ? 1 : 3) }, () => all[next(all.length)] as Value[]);
  if (tile.picture === 'slider' || tile.picture === 'dates') {
    const [low, high] = [result?.table?.values[0]?.[0], result?.table?.values[1]?.[0]] as (number | string)[];
    if (typeof low === 'number' && typeof high === 'number') {
      const at = () => Number((low + (next(1000) / 1000) * (high - low)).toFixed(1));
      const [a, b] = [at(), at()];
      return {
        members: [],
        range: { from: next(4) === 0 ? null : Math.min(a, b), to: Math.max(a, b) },
        exclude: next(4) === 0,
      };
    }
    return { members: [], range: { from: '2024-02-10', to: `2025-0${1 + next(9)}-01` } };
  }
  if (tile.pick === 'range') {
    const known = all.map((m) => m[0]).filter((v) => v !== null && v !== undefined);
    const [a, b] = [next(known.length), next(known.length)];
    const edges = result?.table?.columns[0]?.edges as number[] | undefined;
    if (edges)
      return {
        members: [],
        range: {
          from: edges[Math.min(a, b)] as number,
          to: edges[Math.max(a, b) + 1] as number,
          ...(next(2) === 0 ? { below: true } : {}),
        },
        exclude: next(4) === 0,
      };
    const [low, high] = [known[Math.min(a, b)], known[Math.max(a, b)]] as string[];
    const range = {
      from: next(5) === 0 ? null : (low ?? null),
      to: next(5) === 0 ? null : nextPeriod(String(high), tile.by[0]?.at ?? 'day'),
    };
    return {
      members: [],
      range: range.from === null && range.to === null ? { from: low ?? null, to: null } : range,
      exclude: next(4) === 0,
    };
  }
  const selection: Selection = { members: some() };
  if (tile.hasRest && tile.pick !== 'one' && next(3) === 0) selection.restOf = all;
  if (next(4) === 0) selection.exclude = true;
  return selection;
}
