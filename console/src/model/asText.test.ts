import { expect, test } from 'vitest';
import type { TileInfo, TileResult } from '../api/client';
import { asText } from './asText';

test('A tile as text has its title, filters, figures as they are written, the rest of a top, and whose rows they are', () => {
  const result = {
    table: {
      columns: [
        { name: 'route', title: 'Route', role: 'group', kind: 'text', format: null, at: null },
        { name: 'rest', title: '', role: 'rest', kind: 'boolean', format: null, at: null },
        {
          name: 'income',
          title: 'Income',
          role: 'figure',
          kind: 'integer',
          format: { decimals: 0, factor: 1, unit: 'lt', marks: true, unitFirst: false, short: false },
          at: null,
        },
      ],
      values: [
        ['North\tway', null, null],
        [false, false, true],
        [12345, -5, null],
      ],
    },
    lines: 4,
    filters: { applied: [{ fields: 'Sea area', members: ['North', 'South'] }] },
    note: null,
    restricted: true,
  } as unknown as TileResult;
  expect(asText({ title: 'Income by route' } as TileInfo, result).split('\n')).toEqual([
    'Income by route',
    'Sea area: North, South',
    'Route\tIncome, lt',
    'North way\t12,345',
    'not given\t−5',
    'all others\t–',
    'The first 3 of 4 lines.',
    'Of the rows that the sender may see.',
  ]);
  expect(asText({ title: 'Nothing yet' } as TileInfo, undefined)).toBe('Nothing yet');
});
