import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import {
  type DashboardPage,
  Refused,
  type Schemas,
  type TableColumns,
  type TileInfo,
  type TileResult,
} from '../../api/client';
import { asked, type Selections } from '../selections';
import { wiringOf } from '../wiring';
import type { Address } from './address';
import { isWaiting } from './figures';
import { createPage, type PageStore } from './pageStore';
import type { Question, Service } from './service';
import { linesIn, linesOtherwise, tableIn } from './tables';

const field = { name: 'port', title: 'Port', kind: 'text', at: null, names: null, pattern: null };

const tile = (name: string, more: Partial<TileInfo> = {}): TileInfo =>
  ({
    name,
    title: name,
    picture: 'bar',
    pick: 'many',
    drives: 'dashboard',
    drivesTiles: [],
    follows: 'all',
    followsTiles: [],
    by: [field],
    levels: [],
    show: [],
    uses: [],
    dataset: 'Calls',
    datasetName: 'calls',
    group: null,
    hidden: false,
    ...more,
  }) as unknown as TileInfo;

const pageOf = (tabs: Record<string, TileInfo[]>, more: Partial<DashboardPage> = {}): DashboardPage =>
  ({
    name: 'd',
    title: 'D',
    version: 1,
    weekStarts: 'monday',
    tabs: Object.entries(tabs).map(([name, tiles]) => ({ name, title: name, tiles, groups: [] })),
    parameters: [],
    view: { keeps: null, dropped: [], canUndo: 0, canRedo: 0 },
    hasOpening: false,
    mayArrange: true,
    mayExport: true,
    appliesOnButton: false,
    withheld: 0,
    ...more,
  }) as unknown as DashboardPage;

/** An answer that says under what it was given. */
const answer = (name: string, selections: Selections, more: object = {}): TileResult =>
  ({
    tile: name,
    state: 'ready',
    table: {
      columns: [{ name: 'port', role: 'group' }],
      values: [[JSON.stringify([name, Object.entries(asked(selections)).sort()])]],
    },
    lines: 1,
    filters: { applied: [], notApplied: [] },
    readAt: '2026-01-05T08:00:00Z',
    ...more,
  }) as unknown as TileResult;

const noAddress: Address = { tab: null, pick: null, set: null, a: null, large: null };
const a = (member: string) => ({ members: [[member]] });

interface Stage {
  store: PageStore;
  questions: (Question & { signal: AbortSignal })[];
  gone: [Address, boolean][];
  service: Service;
  stop: () => void;
  /** What a tile shows, as the answer says it. */
  shows: (name: string) => unknown;
}

/** What of a selection reaches a tile: the slow, obvious rule for a page whose tiles all drive one another. */
const reaching = (page: DashboardPage, name: string, selections: Selections): Selections => {
  const { named, filters } = wiringOf(page);
  const follower = named.get(name);
  return Object.fromEntries(
    Object.entries(selections).filter(([driver]) => {
      const of = named.get(driver);
      return of && follower && filters(of, follower);
    }),
  );
};

function stage(
  page: DashboardPage,
  more: { address?: Partial<Address>; service?: Partial<Service>; before?: (store: PageStore) => void } = {},
): Stage {
  const questions: Stage['questions'] = [];
  const gone: Stage['gone'] = [];
  const service: Service = {
    async *results(question, signal) {
      questions.push({ ...question, signal });
      for (const name of question.tiles) {
        await new Promise((resolve) => setTimeout(resolve, 10));
        signal.throwIfAborted();
        yield answer(name, reaching(page, name, question.selections));
      }
    },
    // biome-ignore lint/correctness/useYield: a page that has no cells to give
    async *cells() {
      throw new Error('no cells');
    },
    opening: async () => ({ selections: {}, dropped: [], parameters: {}, names: null }),
    members: async () => ({ members: [], lines: 0, names: null }),
    file: async () => 'data:,',
    edit: async () => page,
    step: async () => page,
    goTo: async () => page,
    ...more.service,
  };
  const store = createPage({ page, address: { ...noAddress, ...more.address } }, service);
  more.before?.(store);
  const stop = store.start({
    go: (address, isReplacing) => gone.push([address, isReplacing]),
    draw: async () => page,
    take: () => undefined,
    refetch: () => undefined,
    isSeen: () => true,
  });
  const shows = (name: string) => store.getState().tiles[name]?.result?.table?.values[0]?.[0];
  return { store, questions, gone, service, stop, shows };
}

const said = (name: string, selections: Selections) => JSON.stringify([name, Object.entries(selections).sort()]);

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

describe('A page', () => {
  const page = pageOf({ one: [tile('x'), tile('y')], two: [tile('z')] });

  test('takes what was asked before it stood, and can stop that', async () => {
    const { store, questions, shows } = stage(page, { before: (store) => store.askAhead() });
    await vi.advanceTimersByTimeAsync(15);
    expect([shows('x'), shows('y')]).toEqual([said('x', {}), undefined]);
    store.dispatch({ type: 'stop' });
    await vi.runAllTimersAsync();
    expect(questions.map((q) => [q.tiles, q.signal.aborted])).toEqual([[['x', 'y'], true]]);
    expect([shows('y'), store.getState().tiles.y?.failure?.code]).toEqual([undefined, 'stopped']);
  });

  test('asks anew where it opens otherwise than was asked before it stood', async () => {
    const before = (store: PageStore) => {
      store.askAhead();
      store.dispatch({ type: 'pick', tile: 'x', selection: a('p') });
    };
    const { questions, shows } = stage(page, { before });
    await vi.runAllTimersAsync();
    expect(questions.map((q) => [q.selections, q.signal.aborted])).toEqual([
      [{}, true],
      [{ x: a('p') }, false],
    ]);
    expect(shows('y')).toBe(said('y', { x: a('p') }));
  });

  test('tells of what was refused before it stood', async () => {
    // biome-ignore lint/correctness/useYield: a service that refuses
    const results: Service['results'] = async function* () {
      throw new Refused(503, 'busy', 'Ask later.');
    };
    const { store } = stage(page, { service: { results }, before: (store) => store.askAhead() });
    await vi.runAllTimersAsync();
    expect(store.getState().tiles.x?.failure?.code).toBe('busy');
  });

  test('asks at once for its open tab, and after a burst of picks once for the followers', async () => {
    const { store, questions, shows, gone } = stage(page);
    expect(questions.map((q) => q.tiles)).toEqual([['x', 'y']]);
    await vi.runAllTimersAsync();
    store.dispatch({ type: 'pick', tile: 'x', selection: a('p') });
    store.dispatch({ type: 'pick', tile: 'x', selection: { members: [['p'], ['q']] } });
    await vi.runAllTimersAsync();
    expect(questions.slice(1).map((q) => q.tiles)).toEqual([['y']]);
    expect(shows('y')).toBe(said('y', { x: { members: [['p'], ['q']] } }));
    expect(gone.map(([address, isReplacing]) => [address.pick, isReplacing])).toEqual([
      [JSON.stringify({ x: a('p') }), false],
      [JSON.stringify({ x: { members: [['p'], ['q']] } }), false],
    ]);
    store.dispatch({ type: 'open tab', tab: 'two' });
    expect(questions.at(-1)?.tiles).toEqual(['z']);
  });

  test('asks again for those tiles alone whose figures come from something else by now, whatever version it is', async () => {
    const drawn = (x: string, y: string, more: Partial<TileInfo> = {}) =>
      pageOf({ one: [tile('x', { basis: x, ...more }), tile('y', { basis: y })] }, { version: ++version });
    let version = 0;
    const { store, questions } = stage(drawn('1', '1'));
    await vi.runAllTimersAsync();
    const asksFor = async (after: DashboardPage) => {
      const before = questions.length;
      store.dispatch({ type: 'edited', page: after });
      await vi.runAllTimersAsync();
      return questions.slice(before).map((q) => q.tiles);
    };
    expect(await asksFor(drawn('1', '1'))).toEqual([]);
    expect(await asksFor(drawn('1', '2'))).toEqual([['y']]);
    // Nothing is picked on it, so that nobody follows it.
    expect(await asksFor(drawn('2', '2'))).toEqual([['x']]);
    store.dispatch({ type: 'pick', tile: 'x', selection: a('p') });
    await vi.runAllTimersAsync();
    expect(await asksFor(drawn('3', '2'))).toEqual([['x', 'y']]);
    store.dispatch({ type: 'pick', tile: 'x', selection: undefined });
    await vi.runAllTimersAsync();
    expect(await asksFor(drawn('3', '2', { isRequired: true }))).toEqual([['y']]);
    expect(await asksFor(drawn('3', '2', { isRequired: true, drives: 'none' }))).toEqual([['y']]);
  });

  test('asks for what waits only when it is wanted, and again only when it is wanted again', async () => {
    const { store, questions, shows } = stage(pageOf({ one: [tile('x'), { ...tile('y'), waits: true }] }));
    await vi.runAllTimersAsync();
    expect(questions.map((q) => q.tiles)).toEqual([['x']]);
    store.dispatch({ type: 'read anew' });
    await vi.runAllTimersAsync();
    expect(questions.at(-1)?.tiles).toEqual(['x']);
    const waits = () => isWaiting(store.getState(), store.getState().shown[1] as never);
    expect(waits()).toBe(true);
    store.dispatch({ type: 'retry', tile: 'y' });
    expect(waits()).toBe(false);
    await vi.runAllTimersAsync();
    expect(questions.at(-1)?.tiles).toEqual(['y']);
    expect(shows('y')).toBe(said('y', {}));
    store.dispatch({ type: 'read anew' });
    await vi.runAllTimersAsync();
    expect(questions.at(-1)?.tiles).toEqual(['x', 'y']);
    const before = questions.length;
    store.dispatch({ type: 'pick', tile: 'x', selection: a('p') });
    await vi.runAllTimersAsync();
    expect(questions.length).toBe(before);
    expect(waits()).toBe(true);
    store.dispatch({ type: 'retry', tile: 'y' });
    await vi.runAllTimersAsync();
    expect(shows('y')).toBe(said('y', { x: a('p') }));
  });

  test('cancels the older question and asks again for what it still owed', async () => {
    const { store, questions, shows } = stage(page);
    await vi.advanceTimersByTimeAsync(12); // x has come, y has not
    store.dispatch({ type: 'retry', tile: 'x' });
    expect(questions[0]?.signal.aborted).toBe(true);
    expect(questions[1]?.tiles.sort()).toEqual(['x', 'y']);
    await vi.runAllTimersAsync();
    expect(shows('y')).toBe(said('y', {}));
  });

  test('tells what was stopped and what could not be answered, and keeps the figures', async () => {
    const { store, shows } = stage(page, {});
    await vi.runAllTimersAsync();
    store.dispatch({ type: 'read anew' });
    store.dispatch({ type: 'stop' });
    await vi.runAllTimersAsync();
    expect(store.getState().tiles.x).toMatchObject({ failure: { code: 'stopped' } });
    expect(shows('x')).toBe(said('x', {}));
    expect(store.getState().tiles.x?.runningSince).toBeUndefined();
  });

  test('keeps the figures that a source does not read anew for now, and has none for what nobody asked before', async () => {
    let isPaced = false;
    const problem = { code: 'source-paced', detail: 'It takes 2 statements a minute.', remedy: 'Try again in 30 s.' };
    const { store, shows } = stage(page, {
      service: {
        async *results(question) {
          for (const name of question.tiles)
            yield answer(
              name,
              reaching(page, name, question.selections),
              isPaced ? { state: 'failed', table: null, problem } : {},
            );
        },
      },
    });
    await vi.runAllTimersAsync();
    isPaced = true;
    store.dispatch({ type: 'read anew' });
    await vi.runAllTimersAsync();
    expect(shows('x')).toBe(said('x', {}));
    expect(store.getState().tiles.x?.result?.note).toBe(`${problem.detail} ${problem.remedy}`);
    store.dispatch({ type: 'pick', tile: 'x', selection: a('p') });
    await vi.runAllTimersAsync();
    expect(store.getState().tiles.y?.result?.problem).toEqual(problem);
    isPaced = false;
    store.dispatch({ type: 'read anew' });
    await vi.runAllTimersAsync();
    expect(store.getState().tiles.x?.result?.note).toBeUndefined();
    expect(shows('y')).toBe(said('y', { x: a('p') }));
  });

  test('shows the figures of its state in the end, whatever was done in which order', async () => {
    let seed = 7;
    const random = (n: number) => {
      seed = (seed * 1103515245 + 12345) % 2147483648;
      return Math.floor((seed / 2147483648) * n);
    };
    for (let round = 0; round < 200; round++) {
      const { store, shows, stop } = stage(page);
      for (let step = 0; step < 12; step++) {
        const name = ['x', 'y', 'z'][random(3)] ?? 'x';
        const what = random(6);
        if (what < 3)
          store.dispatch({
            type: 'pick',
            tile: name,
            selection: random(3) === 0 ? undefined : a(String(random(3))),
            isLive: random(4) === 0,
          });
        else if (what === 3) store.dispatch({ type: 'open tab', tab: ['one', 'two'][random(2)] ?? 'one' });
        else if (what === 4) store.dispatch({ type: 'read anew' });
        else store.dispatch({ type: 'clear' });
        await vi.advanceTimersByTimeAsync(random(2) * random(200));
      }
      await vi.runAllTimersAsync();
      const { applied, shown } = store.getState();
      for (const { name } of shown) expect(shows(name)).toBe(said(name, reaching(page, name, applied)));
      stop();
    }
  });

  test('says where what is picked has no rows', async () => {
    const { store } = stage(page);
    await vi.runAllTimersAsync();
    const { pickedWithoutRows } = await import('./figures');
    store.dispatch({ type: 'pick', tile: 'x', selection: a('gone') });
    const { shown, selections, tiles } = store.getState();
    expect(pickedWithoutRows(shown, selections, tiles)).toEqual({ x: new Set(['["gone"]']) });
  });
});

describe('Picks', () => {
  test('wait where the dashboard applies on a button, and are applied or discarded together', async () => {
    const { store, questions, gone } = stage(pageOf({ one: [tile('x'), tile('y')] }, { appliesOnButton: true }));
    await vi.runAllTimersAsync();
    store.dispatch({ type: 'pick', tile: 'x', selection: a('p') });
    expect(store.getState()).toMatchObject({ selections: { x: a('p') }, applied: {}, draft: { x: a('p') } });
    store.dispatch({ type: 'discard' });
    expect(store.getState().selections).toEqual({});
    store.dispatch({ type: 'pick', tile: 'x', selection: a('q') });
    await vi.runAllTimersAsync();
    expect(questions).toHaveLength(1);
    store.dispatch({ type: 'apply' });
    await vi.runAllTimersAsync();
    expect(store.getState()).toMatchObject({ applied: { x: a('q') }, draft: undefined });
    expect(questions.at(-1)?.selections).toEqual({ x: a('q') });
    expect(gone).toHaveLength(1);
  });

  test('of a link wait for the service, and what is left out of them leaves the address', async () => {
    const link = JSON.stringify({ x: { members: [['p'], ['secret']] } });
    const { store, questions, gone } = stage(pageOf({ one: [tile('x'), tile('y')] }), {
      address: { pick: link },
      service: {
        opening: async () =>
          ({
            selections: { x: { members: [['p']] } },
            dropped: [{ tile: 'x', tileTitle: 'x', count: 1 }],
            parameters: {},
            names: null,
          }) as unknown as Schemas['OpeningAnswer'],
      },
    });
    expect(store.getState().isReady).toBe(false);
    expect(questions).toHaveLength(0);
    await vi.runAllTimersAsync();
    expect(questions.map((q) => q.selections)).toEqual([{ x: a('p') }]);
    expect(gone).toEqual([[{ ...noAddress, pick: JSON.stringify({ x: a('p') }) }, true]]);
    expect(store.getState().dropped.join()).toContain('left out');
    store.dispatch({ type: 'pick', tile: 'x', selection: undefined });
    expect(store.getState().dropped).toEqual([]);
  });

  test('that are required lead back to what the dashboard opens with', async () => {
    const page = pageOf({ one: [tile('x', { isRequired: true }), tile('y')] }, { hasOpening: true });
    const { store, gone } = stage(page, {
      service: {
        opening: async () =>
          ({
            selections: { x: { members: [['first']] } },
            dropped: [],
            parameters: {},
          }) as unknown as Schemas['OpeningAnswer'],
      },
    });
    await vi.runAllTimersAsync();
    store.dispatch({ type: 'pick', tile: 'x', selection: a('p') });
    store.dispatch({ type: 'pick', tile: 'x', selection: undefined });
    expect(store.getState().selections).toEqual({ x: a('first') });
    expect(gone.at(-1)?.[0].pick).toBeNull();
  });
});

describe('Brush cells', () => {
  test('answer a moving hand without a question, with one change of the state for each step of it', async () => {
    const page = pageOf({ one: [tile('x'), tile('y')] });
    const axis = (...members: string[]) => ({ members, at: null, spans: null });
    const column = (name: string, role: string) => ({
      name,
      title: name,
      role,
      kind: 'integer',
      format: null,
      at: null,
    });
    const cube = {
      driverFields: 1,
      axes: [axis('p', 'q'), axis('k', 'l')],
      cells: [
        [0, 0, 1],
        [0, 1, 0],
      ],
      parts: [{ fold: 'sum', counts: true, scale: 0, values: [1, 2, 4] }],
      figures: [[{ do: 'part', part: 0, takes: 0, value: null, kind: 'integer' }]],
      order: [{ column: 0, descending: false }],
      top: null,
      totals: false,
      limit: 100,
      columns: [column('kind', 'group'), column('n', 'figure')],
      restricted: false,
      reach: null,
      driverIsSpan: false,
      byMember: null,
      pairsAre: null,
      readAt: '2026-01-05T09:00:00Z',
    } as unknown as Schemas['BrushCube'];
    const { store, questions } = stage(page, {
      service: {
        async *cells() {
          yield { tile: 'y', state: 'ready', reason: null, cube };
        },
      },
    });
    await vi.runAllTimersAsync();
    store.dispatch({ type: 'approach', tile: 'x' });
    await vi.waitFor(() => expect(store.getState().cells.x?.isWhole).toBe(true));
    let changes = 0;
    store.subscribe(() => changes++);
    for (const member of ['p', 'q', 'p'])
      store.dispatch({ type: 'pick', tile: 'x', selection: a(member), isLive: true });
    expect(changes).toBe(3);
    expect(store.getState().tiles.y).toMatchObject({
      isFolded: true,
      isPassing: true,
      result: {
        table: {
          values: [
            ['k', 'l'],
            [1, 2],
          ],
        },
        readAt: cube.readAt,
      },
    });
    await vi.runAllTimersAsync();
    expect(questions).toHaveLength(1);
    // What is picked with a click is of no moment on the way.
    store.dispatch({ type: 'pick', tile: 'x', selection: a('q') });
    expect(store.getState().tiles.y).toMatchObject({ isFolded: true, result: { table: { values: [['k'], [4]] } } });
    expect(store.getState().tiles.y?.isPassing).toBeUndefined();
    store.dispatch({ type: 'read anew' });
    expect(store.getState().cells).toEqual({});
    expect(questions.at(-1)).toMatchObject({ tiles: ['x', 'y'], isAnew: true });
  });
});

describe('Parameters', () => {
  const parameter = (values: string[]) => ({
    name: 'by',
    presents: true,
    opening: ['port'],
    values,
    choices: [{ value: 'port' }, { value: 'kind' }],
    datasets: [],
  });
  const drawnBy = (values: string[], by: string) =>
    pageOf({ one: [tile('x', { by: [{ ...field, name: by }] as TileInfo['by'] }), tile('y')] }, {
      parameters: [parameter(values)],
    } as unknown as Partial<DashboardPage>);

  test('that change how tiles are drawn take effect with the page, and picks that no longer fit go', async () => {
    const [before, after] = [drawnBy(['port'], 'port'), drawnBy(['kind'], 'kind')];
    const { store } = stage(before);
    const stop = store.start({
      go: () => undefined,
      draw: async (present) => {
        if (present === null) throw new Error('out of reach');
        return after;
      },
      take: () => undefined,
      refetch: () => undefined,
      isSeen: () => true,
    });
    store.dispatch({ type: 'pick', tile: 'x', selection: a('p') });
    store.dispatch({ type: 'set', set: { by: ['kind'] } });
    expect(store.getState()).toMatchObject({ selections: { x: a('p') }, published: before });
    await vi.runAllTimersAsync();
    expect(store.getState()).toMatchObject({ selections: {}, published: after, set: { by: ['kind'] } });
    store.dispatch({ type: 'clear' });
    await vi.runAllTimersAsync();
    expect(store.getState()).toMatchObject({ published: after, drawProblem: expect.stringContaining('out of reach') });
    stop();
  });
});

describe('A change of the arrangement', () => {
  test('is sent again under the same name until it is heard of, and those after it wait', async () => {
    const page = pageOf({ one: [tile('x')] });
    const sent: [string, string][] = [];
    let isAway = true;
    const { store } = stage(page, {
      service: {
        edit: async (edit, _, request) => {
          sent.push([(edit as { tile: string }).tile, request]);
          if (isAway) throw new TypeError('no answer');
          return page;
        },
      },
    });
    store.dispatch({ type: 'edit', edit: { edit: 'hide', tile: 'x' } });
    store.dispatch({ type: 'edit', edit: { edit: 'unhide', tile: 'x' } });
    await vi.advanceTimersByTimeAsync(5000);
    expect(store.getState().saving).toMatchObject({ waiting: 2, isHeld: true });
    const names = new Set(sent.map(([, request]) => request));
    expect([sent.length > 1, names.size]).toEqual([true, 1]);
    isAway = false;
    await vi.runAllTimersAsync();
    expect(store.getState().saving).toMatchObject({ waiting: 0, isHeld: false, hasSaved: true });
    expect(new Set(sent.map(([, request]) => request)).size).toBe(2);
  });

  test('of columns is seen at once, until the view has it or it is refused', async () => {
    const x = tile('x');
    const [narrow, wide, hidden] = [40, 400, 0].map((width) =>
      width === 0 ? { hidden: ['m'] } : { widths: [{ column: 'm', width }] },
    ) as [TableColumns, TableColumns, TableColumns];
    const answers: (() => void)[] = [];
    const { store } = stage(pageOf({ one: [x] }), {
      service: {
        edit: (edit) =>
          new Promise((resolve, reject) => {
            const table = edit.edit === 'table' ? edit.table : null;
            answers.push(() =>
              table === hidden
                ? reject(new Refused(422, 'edit-refused', 'It stays.'))
                : resolve(pageOf({ one: [{ ...x, table }] })),
            );
          }),
      },
    });
    const shown = () => tableIn(store.getState(), store.getState().page.tabs[0]?.tiles[0] ?? x);
    for (const table of [narrow, wide]) store.dispatch({ type: 'columns', tile: 'x', table });
    expect(shown()).toBe(wide);
    answers[0]?.();
    await vi.advanceTimersByTimeAsync(1);
    // The answer to the first does not take back the second.
    expect(shown()).toBe(wide);
    answers[1]?.();
    await vi.advanceTimersByTimeAsync(1);
    expect([shown(), store.getState().tables]).toEqual([wide, {}]);
    store.dispatch({ type: 'columns', tile: 'x', table: hidden });
    expect(shown()).toBe(hidden);
    answers[2]?.();
    await vi.advanceTimersByTimeAsync(1);
    expect(shown()).toBe(wide);
    expect(store.getState().viewProblem).toContain('It stays.');
  });

  test('of lines lasts for the visit, is kept by a view, and neither is taken for the other', () => {
    const of = (column: string, descending = false) => ({ sorted: [{ column, descending }], filters: [] });
    const plain = tile('x');
    const { store } = stage(pageOf({ one: [plain] }));
    const now = (t = plain) => [linesIn(store.getState(), t).sorted[0]?.column, linesOtherwise(store.getState(), t)];
    expect(now()).toEqual([undefined, null]);
    store.dispatch({ type: 'lines', tile: 'x', lines: { sorted: of('m').sorted } });
    expect(now()).toEqual(['m', 'visit']);
    // Over what the view has, and over what the developer has it open with.
    const kept = { ...plain, table: of('n', true), publishedTable: of('p') };
    expect(now(kept)).toEqual(['m', 'visit']);
    store.dispatch({ type: 'lines', tile: 'x' });
    expect(now(kept)).toEqual(['n', 'view']);
    expect(now({ ...kept, table: of('p') })).toEqual(['p', null]);
  });

  test('is answered without taking away what is being named meanwhile', async () => {
    const page = pageOf({ one: [tile('x')] });
    const { store } = stage(page, { service: { edit: async () => page } });
    store.dispatch({ type: 'edit', edit: { edit: 'hide', tile: 'x' } });
    store.dispatch({ type: 'name tab', naming: { tab: 'one', title: 'One' } });
    await vi.runAllTimersAsync();
    expect(store.getState()).toMatchObject({ naming: { tab: 'one' }, saving: { waiting: 0 } });
    store.dispatch({ type: 'edit', edit: { edit: 'rename-tab', tab: 'one', title: 'Two' } });
    expect(store.getState().naming).toBeUndefined();
  });
});

test('What was picked on an added tile goes with the tile', async () => {
  const [y, own] = [tile('y'), { ...tile('own-x'), own: true }];
  const { store } = stage(pageOf({ one: [own, y] }), { service: { edit: async () => pageOf({ one: [y] }) } });
  store.dispatch({ type: 'pick', tile: 'own-x', selection: a('p') });
  await vi.runAllTimersAsync();
  store.dispatch({ type: 'edit', edit: { edit: 'remove-tile', tile: 'own-x' } });
  await vi.runAllTimersAsync();
  const { selections, tiles } = store.getState();
  expect(selections).toEqual({});
  expect(tiles.y?.result?.table?.values[0]?.[0]).toBe(said('y', {}));
});

describe('Two states', () => {
  test('stand side by side until one goes on', async () => {
    const page = pageOf({ one: [tile('x'), tile('y')] });
    const { store } = stage(page);
    store.dispatch({ type: 'pick', tile: 'x', selection: a('p') });
    store.dispatch({ type: 'pin' });
    store.dispatch({ type: 'pick', tile: 'x', selection: a('q') });
    await vi.runAllTimersAsync();
    const { compared, tiles, pinned } = store.getState();
    expect(pinned).toEqual({ x: a('p') });
    expect(compared.y?.result?.table?.values[0]?.[0]).toBe(said('y', { x: a('p') }));
    expect(tiles.y?.result?.table?.values[0]?.[0]).toBe(said('y', { x: a('q') }));
    store.dispatch({ type: 'go on', with: 'A' });
    await vi.runAllTimersAsync();
    expect(store.getState()).toMatchObject({ selections: { x: a('p') }, pinned: undefined, compared: {} });
  });
});
