import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import type { DashboardPage, FieldInfo, TileInfo } from '../api/client';
import {
  asked,
  back,
  drawnAs,
  fieldsOf,
  fitting,
  inverted,
  isPicked,
  known,
  type Member,
  mayFilter,
  open,
  rangeLabel,
  readSelections,
  selectionLabels,
  toggle,
  toggleAll,
  toggleRest,
  withRange,
  writeSelections,
} from './selections';

const tile = (name: string, more: Partial<TileInfo> = {}): TileInfo =>
  ({
    name,
    pick: 'many',
    drives: 'tab',
    drivesTiles: [],
    follows: 'all',
    followsTiles: [],
    by: [],
    levels: [],
    group: null,
    ...more,
  }) as unknown as TileInfo;

describe('A click', () => {
  test('picks a member, a second one joins it, and a click on a picked one lets it go', () => {
    const one = toggle(undefined, ['a'], 'many');
    const two = toggle(one, ['b'], 'many');
    expect(two).toEqual({ members: [['a'], ['b']] });
    expect(toggle(two, ['a'], 'many')).toEqual({ members: [['b']] });
    expect(toggle(one, ['a'], 'many')).toBeUndefined();
  });
  test('takes the place of the other where only one can be picked', () => {
    expect(toggle({ members: [['a']] }, ['b'], 'one')).toEqual({ members: [['b']] });
  });
  test('on the rest picks what is not shown, and again lets it go', () => {
    const rest = toggleRest({ members: [['a']] }, [['a'], ['b']], 'many');
    expect(rest).toEqual({ members: [['a']], restOf: [['a'], ['b']] });
    expect(toggleRest(rest, [['a'], ['b']], 'many')).toEqual({ members: [['a']] });
  });
  test('tells "not given" from empty text, and pairs member by member', () => {
    expect(toggle({ members: [[null]] }, [''], 'many')).toEqual({ members: [[null], ['']] });
    expect(toggle({ members: [[1, 2]] }, [1, 3], 'many')).toEqual({
      members: [
        [1, 2],
        [1, 3],
      ],
    });
  });
});

describe('A level', () => {
  test('opens below a member, keeps what was picked above, and gives it back', () => {
    const picked = { members: [['North Reach'], ['South Deep']] };
    const below = open(picked, 'North Reach');
    expect(below).toEqual({ members: [], path: ['North Reach'], kept: [picked] });
    const deeper = open(toggle(below, ['Skerrin–Ullavee'], 'many'), 'Skerrin–Ullavee');
    expect(deeper.path).toEqual(['North Reach', 'Skerrin–Ullavee']);
    expect(back(deeper, 1)).toEqual({ members: [['Skerrin–Ullavee']], path: ['North Reach'], kept: [picked] });
    expect(back(deeper, 0)).toEqual(picked);
    expect(asked({ a: deeper })).toEqual({ a: { members: [], path: ['North Reach', 'Skerrin–Ullavee'] } });
  });
});

describe('A range', () => {
  test('takes the place of members, of dates without its end, of numbers with it', () => {
    const dates = withRange({ members: [['x']] }, { from: '2025-01-06', to: '2025-01-20' });
    expect(dates).toEqual({ members: [], range: { from: '2025-01-06', to: '2025-01-20' } });
    expect(['2025-01-05', '2025-01-06', '2025-01-19', '2025-01-20', null].map((d) => isPicked(dates, [d]))).toEqual([
      false,
      true,
      true,
      false,
      false,
    ]);
    const numbers = withRange(undefined, { from: 1, to: 3 });
    expect([0, 1, 3, 4].map((n) => isPicked(numbers, [n]))).toEqual([false, true, true, false]);
    expect(rangeLabel({ from: '2025-01-06', to: '2025-01-20' })).toBe('6 Jan 2025 to 19 Jan 2025');
    expect(rangeLabel({ from: null, to: 3 })).toBe('up to 3');
    expect(rangeLabel({ from: -1500, to: 3, below: true })).toBe('−1,500 to below 3');
    const format = { decimals: 0, factor: 1, unit: 'min', marks: true, unitFirst: false, short: false };
    expect(rangeLabel({ from: -1500, to: 3, below: true }, format)).toBe('−1,500 min to below 3 min');
    expect(rangeLabel({ from: 3, to: null }, format)).toBe('from 3 min');
    expect(rangeLabel({ from: '2025-01-06', to: null }, format)).toBe('from 6 Jan 2025');
  });
  test('of many members is told of each as of few', () => {
    const all = Array.from({ length: 40 }, (_, i): (string | number | null)[] => [
      i % 3 ? i : `${i}`,
      i % 5 ? null : 'a',
    ]);
    const members = all.filter((_, i) => i % 2 === 0);
    for (const exclude of [false, true])
      for (const [i, m] of [...all, ['1', null], [null, 1]].entries())
        expect(isPicked({ members, exclude }, m)).toBe((i < 40 && i % 2 === 0) !== exclude);
    expect(toggleAll({ members: all }, members)?.members).toEqual(all.filter((_, i) => i % 2 === 1));
  });
  test('in the picture of one member is of it alone, and leaves with it', () => {
    const one = withRange({ members: [] }, { from: 1, to: 3 }, ['a']);
    expect(one).toEqual({ members: [], range: { from: 1, to: 3 }, each: ['a'] });
    expect(isPicked(one, [2, 'a'])).toBe(true);
    expect(isPicked(one, [2, 'b'])).toBe(false);
    const fields = [
      { name: 'n', kind: 'integer', at: null },
      { name: 'l', kind: 'text', at: null },
    ] as FieldInfo[];
    expect(selectionLabels({ ...one, members: [] }, fields)).toEqual(['1 to 3 · a']);
    expect(selectionLabels({ members: [], period: 'last 3 days', each: ['a', null] }, fields)).toEqual([
      'last 3 days · a or not given',
    ]);
    expect(withRange(one, undefined, ['a'])).toBeUndefined();
    const repeated = tile('r', { by: fields, repeats: true });
    expect(fieldsOf(repeated, one)).toEqual(fields);
    expect(fieldsOf(repeated, withRange(one, { from: 1, to: 3 }))).toEqual(fields.slice(0, 1));
    expect(toggle(one, [2, 'b'], 'range')).toEqual({ members: [[2, 'b']] });
    expect(readSelections('{"t":{"range":{"from":1,"to":3},"each":"a"}}')).toEqual({});
  });
  test('and members can mean all but these, a missing value with them', () => {
    const all = inverted({ members: [['a']] });
    expect(all).toEqual({ members: [['a']], exclude: true });
    expect([['a'], ['b'], [null]].map((m) => isPicked(all, m))).toEqual([false, true, true]);
    expect(inverted(all as never)).toEqual({ members: [['a']] });
  });
});

describe('A group', () => {
  const groups = new Map([
    ['g', { drives: 'tab', drivesTiles: [] }],
    ['h', { drives: 'none', drivesTiles: [] }],
  ]);
  const tabOf = (name: string) => (name.startsWith('far') ? 'two' : 'one');
  const inside = tile('a', { group: 'g', drives: 'group' });
  test('filters inside, and outside as far as the group as a whole drives', () => {
    expect(mayFilter(inside, tile('b', { group: 'g' }), tabOf, groups)).toBe(true);
    expect(mayFilter(inside, tile('c'), tabOf, groups)).toBe(true);
    expect(mayFilter(inside, tile('far'), tabOf, groups)).toBe(false);
    expect(mayFilter(tile('a', { group: 'h', drives: 'group' }), tile('c'), tabOf, groups)).toBe(false);
    expect(mayFilter(tile('a', { group: 'g', drives: 'none' }), tile('c'), tabOf, groups)).toBe(false);
  });
});

describe('The address', () => {
  test('gives back what was put into it', () => {
    const selections = { routes: { members: [['Skerrin–Ullavee'], [null]] }, cells: { members: [[1, 8]] } };
    expect(readSelections(writeSelections(selections))).toEqual(selections);
    expect(writeSelections({})).toBeNull();
  });
  test.each(['', '{', '[]', '7', 'null', '{"a":{}}', '{"a":{"members":[1]}}', '{"a":null}'])(
    'that makes no sense (%s) picks nothing',
    (text) => {
      expect(readSelections(text)).toEqual({});
    },
  );
  test('that names a tile which is not here is told, without harm to the others', () => {
    const page = { tabs: [{ tiles: [tile('a'), tile('number', { pick: 'none' })] }] } as unknown as DashboardPage;
    const all = { a: { members: [['x']] }, gone: { members: [['y']] }, number: { members: [['z']] } };
    expect(known(all, page)).toEqual({ selections: { a: { members: [['x']] } }, dropped: 2 });
  });
});

describe('A tile is asked again', () => {
  const tabOf = (name: string) => (name.startsWith('other') ? 'two' : 'one');
  test.each<[string, TileInfo, TileInfo, boolean]>([
    ['for a selection on its tab', tile('a'), tile('b'), true],
    ['never for its own selection', tile('a'), tile('a'), false],
    ['not for a selection that drives another tab', tile('a'), tile('other'), false],
    ['on another tab if the other drives the dashboard', tile('a', { drives: 'dashboard' }), tile('other'), true],
    ['not if it follows none', tile('a', { drives: 'dashboard' }), tile('b', { follows: 'none' }), false],
    ['only for those that it follows', tile('a'), tile('b', { follows: 'list', followsTiles: ['c'] }), false],
    [
      'if the other drives it by name, on any tab',
      tile('a', { drives: 'list', drivesTiles: ['other'] }),
      tile('other'),
      true,
    ],
    ['not if the other drives nothing', tile('a', { drives: 'none' }), tile('b'), false],
  ])('%s', (_, driver, follower, expected) => {
    expect(mayFilter(driver, follower, tabOf)).toBe(expected);
  });
});

test('Which tiles a pick may filter is what the service says: one file of cases holds both', () => {
  interface Case {
    drives: string;
    drivesTiles: string[];
    follows: string;
    followsTiles: string[];
    tab: string;
    driverGroup: string | null;
    followerGroup: string | null;
    groupDrives: string;
    groupDrivesTiles: string[];
    filters: boolean;
  }
  const cases = JSON.parse(
    readFileSync(new URL('../../../tests/wiring-cases.json', import.meta.url), 'utf8'),
  ) as Case[];
  expect(cases.length).toBeGreaterThan(500);
  for (const c of cases) {
    const driver = tile('d', { drives: c.drives, drivesTiles: c.drivesTiles, group: c.driverGroup });
    const follower = tile('f', { follows: c.follows, followsTiles: c.followsTiles, group: c.followerGroup });
    const groups = new Map([[c.driverGroup ?? '', { drives: c.groupDrives, drivesTiles: c.groupDrivesTiles }]]);
    const tabOf = (name: string) => (name === 'd' ? 'one' : c.tab);
    expect(mayFilter(driver, follower, tabOf, groups), JSON.stringify(c)).toBe(c.filters);
  }
});

test('A selection is written in the words of its fields', () => {
  const fields = [
    {
      name: 'departed.day_of_week',
      title: 'Weekday',
      kind: 'integer',
      at: 'day_of_week',
      description: null,
      unit: null,
      isNamed: false,
      colours: {},
    },
    {
      name: 'departed.hour_of_day',
      title: 'Hour',
      kind: 'integer',
      at: 'hour_of_day',
      description: null,
      unit: null,
      isNamed: false,
      colours: {},
    },
  ];
  expect(
    selectionLabels(
      {
        members: [
          [1, 8],
          [2, null],
        ],
        restOf: [],
      },
      fields,
    ),
  ).toEqual(['Mon · 08:00', 'Tue · not given', 'all others']);
});

describe('A tile that comes to be drawn otherwise', () => {
  const field = (name: string) => ({
    name,
    title: name,
    kind: 'date',
    at: null,
    description: null,
    unit: null,
    isNamed: false,
    colours: {},
  });
  const drawn = (by: string[], more: Partial<TileInfo> = {}) =>
    tile('a', { by: by.map(field), levels: by.slice(0, 1).map(field), show: [], picture: 'bar', ...more });
  const page = (...tiles: TileInfo[]) => ({ tabs: [{ tiles }] }) as unknown as DashboardPage;
  const range = { members: [], range: { from: '2025-01-01', to: '2025-02-01' } };

  test('keeps what was picked as long as its fields stay', () => {
    const picked = { a: { members: [['x']] } };
    expect(fitting(picked, page(drawn(['port'])), page(drawn(['port'], { picture: 'line' })))).toBe(picked);
    expect(fitting(picked, page(drawn(['port'])), page(drawn(['vessel'])))).toEqual({});
    expect(fitting(picked, page(drawn(['port'])), page())).toEqual({});
  });

  test('keeps a range of the same date at another grain, and no member of it', () => {
    const [months, weeks] = [drawn(['at.month'], { pick: 'range' }), drawn(['at.week'], { pick: 'range' })];
    expect(fitting({ a: range }, page(months), page(weeks))).toEqual({ a: range });
    expect(fitting({ a: { members: [['2025-01-01']] } }, page(months), page(weeks))).toEqual({});
    expect(fitting({ a: { ...range, path: ['x'] } }, page(months), page(weeks))).toEqual({});
    expect(fitting({ a: range }, page(months), page(drawn(['at.week'], { pick: 'many' })))).toEqual({});
    expect(fitting({ a: range }, page(months), page(drawn(['other.week'], { pick: 'range' })))).toEqual({});
  });

  test('is told from what it was by picture, measures and fields', () => {
    const as = (...t: TileInfo[]) => new Set(t.map(drawnAs)).size;
    expect(as(drawn(['a']), drawn(['a'], { title: 'Other', place: undefined }))).toBe(1);
    expect(as(drawn(['a']), drawn(['b']), drawn(['a'], { picture: 'line' }))).toBe(3);
  });
});

test('What stands for several members picks all of them, and lets go of all where all are picked', () => {
  const both: Member[] = [['a'], ['b']];
  const one = toggleAll({ members: [['c'], ['a']] }, both);
  expect(one?.members).toEqual([['c'], ['a'], ['b']]);
  expect(toggleAll(one, both)?.members).toEqual([['c']]);
  expect(toggleAll({ members: both }, both)).toBeUndefined();
});
