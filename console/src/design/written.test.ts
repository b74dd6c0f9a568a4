import { expect, test } from 'vitest';
import {
  asKind,
  type Dataset,
  freeName,
  grouped,
  kindOf,
  landings,
  names,
  type Picture,
  relist,
  rewired,
  sentenceOf,
  tilesOf,
  type WrittenTile,
} from './written';

const slot = (least: number, most: number, kinds: string[] = [], wanted: string | null = null) => ({
  least,
  most,
  kinds,
  orNamed: false,
  wanted,
  orKey: null,
});
const picture = (name: string, parts: Partial<Picture>): Picture => ({
  name,
  summary: name,
  show: slot(0, 0),
  by: slot(0, 0),
  canSplit: false,
  splitsSeveral: false,
  placedMeasures: 0,
  pick: 'many',
  picksOneWay: false,
  isControl: false,
  hasData: true,
  ofMembers: [],
  own: [],
  ...parts,
});
const member = (name: string) => ({ name, doc: '' });
const bar = picture('bar', {
  show: slot(1, 4),
  by: slot(1, 1),
  canSplit: true,
  ofMembers: ['top', 'sort'].map(member),
  own: [{ name: 'parts', doc: '', isNeeded: false }],
});
const pie = picture('pie', { show: slot(1, 1), by: slot(1, 1), ofMembers: ['top', 'sort'].map(member) });
const number = picture('number', { show: slot(1, 1) });
const histogram = picture('histogram', { show: slot(0, 1), by: slot(1, 1, ['integer', 'float'], 'a number') });
const map = picture('map', {
  show: slot(1, 1),
  by: slot(1, 1),
  own: [{ name: 'areas', doc: '', isNeeded: true }],
});

const field = (name: string, kind: string) => ({
  name,
  title: name.toUpperCase(),
  description: null,
  kind,
  unit: null,
  isNamed: false,
});
const measure = (name: string) => ({ name, title: name.toUpperCase(), description: null, formula: '', additive: true });
const dataset: Dataset = {
  name: 'd',
  title: 'D',
  description: null,
  fields: [field('area', 'text'), field('delay', 'integer'), field('left', 'timestamp')],
  measures: [measure('income'), measure('late')],
};
const tile = (says: WrittenTile['says']): WrittenTile => ({
  name: 't',
  tab: 'one',
  says: { tile: 't', dataset: 'd', ...says },
});
const carried = (name: string, isMeasure = false, of = 'd') => ({
  dataset: of,
  name,
  title: name.toUpperCase(),
  isMeasure,
});

test('Tiles of a text are found with their tabs, whatever stands there', () => {
  expect(
    tilesOf({ tabs: [{ tab: 'a', tiles: [{ tile: 'x', by: ['p', 'q'] }, 'odd'] }, { tab: 'b', tiles: '' }, 'odd'] }),
  ).toEqual([{ name: 'x', tab: 'a', says: { tile: 'x', by: ['p', 'q'] } }]);
  expect(tilesOf(undefined)).toEqual([]);
  expect([names(undefined), names(''), names('a'), names(['a', 'b'])]).toEqual([[], [], ['a'], ['a', 'b']]);
});

test('What is carried lands where it fits, in place of the last where that is full, and says why it does not elsewhere', () => {
  const bars = tile({ picture: 'bar', show: 'income', by: 'area', sort: { by: 'area' } });
  const [by, split] = landings(bars, bar, dataset, carried('left.month'));
  expect(by).toMatchObject({
    place: 'by',
    says: 'By LEFT.MONTH in place of AREA',
    steps: [
      { do: 'set', at: ['tabs', 'one', 'tiles', 't', 'by'], value: 'left.month' },
      { do: 'remove', at: ['tabs', 'one', 'tiles', 't', 'sort'] },
    ],
  });
  expect(split).toMatchObject({ place: 'split', says: 'Split by LEFT.MONTH', unfit: undefined });
  expect(landings(bars, bar, dataset, carried('late', true))).toMatchObject([
    { place: 'show', says: 'Show LATE too', steps: [{ value: ['income', 'late'] }], unfit: undefined },
  ]);
  expect(
    landings(
      tile({ picture: 'bar', show: 'income', by: 'area', split: 'left' }),
      bar,
      dataset,
      carried('late', true),
    )[0]?.says,
  ).toBe('Show LATE in place of INCOME');
  const unfit = (of: WrittenTile, as: Picture, what = carried('area')) =>
    landings(of, as, dataset, what).map((l) => l.unfit);
  expect(unfit(bars, bar)).toEqual(['it is there already', 'it is there already']);
  expect(unfit(tile({ picture: 'histogram' }), histogram)).toEqual([
    'a histogram is by a number',
    'a histogram is not split',
  ]);
  expect(unfit(tile({ picture: 'histogram' }), histogram, carried('delay'))[0]).toBeUndefined();
  expect(unfit(tile({ picture: 'number' }), number)).toEqual(['a number is by no field', 'a number is not split']);
  expect(unfit(bars, bar, carried('x', false, 'other'))[0]).toBe('the tile is over D');
  expect(unfit(tile({ show: ['income', 'late'], by: 'delay' }), bar)[1]).toBe('it shows several measures');
});

test('Another kind keeps what fits and names what does not', () => {
  const bars = tile({
    picture: 'bar',
    show: ['income', 'late'],
    by: 'area',
    sort: { by: 'late', order: 'descending' },
    top: { count: '5' },
    parts: 'shares',
    title: 'T',
  });
  expect(asKind(bars, bar, pie, dataset)).toEqual({
    lost: ['show LATE', 'parts', 'the order'],
    wanting: undefined,
    steps: [
      { do: 'set', at: ['tabs', 'one', 'tiles', 't', 'picture'], value: 'pie' },
      { do: 'set', at: ['tabs', 'one', 'tiles', 't', 'show'], value: 'income' },
      { do: 'remove', at: ['tabs', 'one', 'tiles', 't', 'parts'] },
      { do: 'remove', at: ['tabs', 'one', 'tiles', 't', 'sort'] },
    ],
  });
  expect(asKind(bars, bar, number, dataset).lost).toEqual(['show LATE', 'by AREA', 'parts', 'top', 'sort']);
  expect(asKind(tile({ show: 'income', by: 'area', split: 'delay' }), bar, pie, dataset).lost).toEqual([
    'split by DELAY',
  ]);
  expect(asKind(tile({ show: 'income' }), number, pie, dataset)).toMatchObject({
    lost: [],
    wanting: 'a pie is by at least 1 field',
  });
  expect(asKind(tile({ show: 'income', by: 'area' }), bar, map, dataset).wanting).toBe('a map needs areas');
  expect(asKind(tile({ show: 'income', by: 'area' }), bar, pie, dataset)).toMatchObject({
    lost: [],
    wanting: undefined,
  });
});

test('A list without a name is without the order by it', () => {
  const table = tile({ show: ['income', 'late'], sort: { by: 'late' } });
  expect(relist(table, 'show', ['income']).map((s) => [s.do, s.at?.at(-1)])).toEqual([
    ['set', 'show'],
    ['remove', 'sort'],
  ]);
  expect(relist(table, 'show', []).map((s) => s.do)).toEqual(['remove', 'remove']);
  expect(relist(tile({}), 'by', [])).toEqual([]);
});

test('Names, kinds and the sentence', () => {
  expect([freeName(['a'], 'b'), freeName(['bars-of-it', 'bars-of-it-2'], 'Bars of it!'), freeName([], '12')]).toEqual([
    'b',
    'bars-of-it-3',
    'part',
  ]);
  expect(['left', 'left.month', 'left.hour', 'left.day_of_week', 'no'].map((n) => kindOf(dataset, n))).toEqual([
    'timestamp',
    'date',
    'timestamp',
    'integer',
    undefined,
  ]);
  expect(
    sentenceOf(
      tile({
        picture: 'bar',
        show: ['income', 'late'],
        by: 'left.month',
        top: { count: '3', rest: 'true' },
        sort: { by: 'income', order: 'descending' },
        drives: 'dashboard',
      }),
      dataset,
    ),
  ).toBe(
    'Bar of INCOME and LATE by LEFT by month, the first 3 and the rest, sorted by INCOME, greatest first, drives dashboard.',
  );
  expect(sentenceOf(tile({ shared: 'a/b' }), undefined)).toBe('The shared tile a/b.');
});

test('A line of the wiring is drawn and taken away where the text says it', () => {
  const [a, b, c] = ['a', 'b', 'c'].map((name) => ({ ...tile({}), name }) as WrittenTile) as [
    WrittenTile,
    WrittenTile,
    WrittenTile,
  ];
  const wire = (driver: string, follower: string, reason: string | null = null) => ({
    driver,
    follower,
    reason,
    driverTitle: '',
    followerTitle: '',
    sentence: null,
    fields: [],
  });
  const says = (of: WrittenTile, more: WrittenTile['says']): WrittenTile => ({ ...of, says: { ...of.says, ...more } });
  const both = [wire('a', 'b'), wire('a', 'c')];
  const at = (name: string, key: string) => ['tabs', 'one', 'tiles', name, key];
  expect(rewired([a, b, c], both, 'a', 'b')).toEqual([{ do: 'set', at: at('a', 'drives'), value: ['c'] }]);
  expect(rewired([a, b], [wire('a', 'b', 'NoCounterpart')], 'a', 'b')).toEqual([
    { do: 'set', at: at('a', 'drives'), value: 'none' },
  ]);
  expect(rewired([a, b, c], [wire('a', 'b', 'NotDriven'), wire('a', 'c')], 'a', 'b')).toEqual([
    { do: 'set', at: at('a', 'drives'), value: ['c', 'b'] },
  ]);
  expect(rewired([a, says(b, { follows: 'none' })], [wire('a', 'b', 'FollowsNone')], 'a', 'b')).toEqual([
    { do: 'set', at: at('b', 'follows'), value: ['a'] },
  ]);
  expect(rewired([a, says(b, { follows: ['c'] }), c], [wire('a', 'b', 'OtherTab')], 'a', 'b')).toEqual([
    { do: 'set', at: at('a', 'drives'), value: ['b'] },
    { do: 'set', at: at('b', 'follows'), value: ['c', 'a'] },
  ]);
  // What a group drives outside of it is said of the group; within it, of the tile.
  const grouped = [says(a, { group: 'g' }), says(b, { group: 'g' }), c];
  expect(rewired(grouped, [wire('a', 'b'), wire('a', 'c', 'OtherGroup')], 'a', 'c')).toEqual([
    { do: 'set', at: ['tabs', 'one', 'groups', 'g', 'drives'], value: ['c'] },
  ]);
  expect(rewired(grouped, [wire('a', 'b')], 'a', 'b')).toEqual([{ do: 'set', at: at('a', 'drives'), value: 'none' }]);
  expect([rewired([a], both, 'a', 'b'), rewired([a], both, 'a', 'a')]).toEqual([undefined, undefined]);
});

test('A group is laid around tiles of a tab, and around a whole group taken away', () => {
  const said = (groups: object, ...of: (string | undefined)[]) =>
    ({
      tabs: [
        {
          tab: 't',
          ...groups,
          tiles: ['a', 'b', 'c'].map((tile, i) => ({ tile, ...(of[i] ? { group: of[i] } : {}) })),
        },
        { tab: 'u', tiles: [{ tile: 'z' }, { tile: 'p', place: 'panel' }] },
      ],
    }) as never;
  const at = ['tabs', 't', 'groups'];
  const group = (tile: string, value?: string) =>
    value === undefined
      ? { do: 'remove', at: ['tabs', 't', 'tiles', tile, 'group'] }
      : { do: 'set', at: ['tabs', 't', 'tiles', tile, 'group'], value };
  expect(grouped(said({}), ['a', 'c'])).toEqual({
    group: 'group',
    isGone: false,
    steps: [{ do: 'set', at, value: [{ group: 'group' }] }, group('a', 'group'), group('c', 'group')],
  });
  const one = { groups: [{ group: 'group' }] };
  expect(grouped(said(one, 'group', 'group'), ['a', 'b'])).toEqual({
    group: 'group',
    isGone: true,
    steps: [group('a'), group('b'), { do: 'remove', at }],
  });
  // Around more than it had, it is another one, and the one that is left empty goes.
  expect(grouped(said(one, 'group', 'group'), ['a', 'b', 'c'])?.steps).toEqual([
    { do: 'insert', at, value: { group: 'group-2' } },
    group('a', 'group-2'),
    group('b', 'group-2'),
    group('c', 'group-2'),
    { do: 'remove', at: [...at, 'group'] },
  ]);
  expect(grouped(said({}), ['a', 'z'])).toBeUndefined();
  expect(grouped(said({}), ['p'])).toBeUndefined();
  expect(grouped(said({}), [])).toBeUndefined();
});
