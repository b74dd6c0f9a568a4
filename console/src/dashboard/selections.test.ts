import { describe, expect, test } from 'vitest';
import type { DashboardPage, TileInfo } from '../api/client';
import { known, mayFilter, readSelections, selectionLabels, toggle, toggleRest, writeSelections } from './selections';

const tile = (name: string, more: Partial<TileInfo> = {}): TileInfo =>
  ({
    name,
    pick: 'many',
    drives: 'tab',
    drivesTiles: [],
    follows: 'all',
    followsTiles: [],
    by: [],
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

test('A selection is written in the words of its fields', () => {
  const fields = [
    {
      name: 'departed.day_of_week',
      title: 'Weekday',
      kind: 'integer',
      at: 'day_of_week',
      description: null,
      unit: null,
      colours: {},
    },
    {
      name: 'departed.hour_of_day',
      title: 'Hour',
      kind: 'integer',
      at: 'hour_of_day',
      description: null,
      unit: null,
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
  ).toEqual(['Mon, 08:00', 'Tue, not given', 'all others']);
});
