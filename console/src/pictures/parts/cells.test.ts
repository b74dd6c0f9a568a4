import { expect, test } from 'vitest';
import type { TileInfo } from '../../api/client';
import { light } from '../../look/tokens';
import { addressOf, cellsOf, filled } from './cells';
import { column } from './testing';

const late = {
  ...column('late', 'figure', 'float'),
  format: { decimals: 1, factor: 100, unit: '%', marks: true, unitFirst: false, short: false },
};
const tile = (more: Partial<TileInfo>) =>
  ({ options: {}, cells: null, ...more }) as Pick<TileInfo, 'options' | 'cells'>;

test('A figure has the colour of the band that it is in, and the legend tells where bands end', () => {
  const bands = [
    { below: 0.1, is: 'good', title: 'on time' },
    { below: 0.2, is: 'plain', title: null },
    { below: null, is: 'bad', title: 'to report' },
  ];
  const look = cellsOf(tile({ cells: { bands: { late: bands }, written: {}, links: {} } }), late, [0.05, 0.3], light);
  expect(look?.style(0.0999)?.background).toContain(light.good);
  expect(look?.style(0.1)).toBeUndefined();
  expect(look?.style(0.2)?.background).toContain(light.danger);
  expect(look?.style(null)).toBeUndefined();
  expect(look?.words?.(0.5)).toBe('to report');
  expect(look?.keys.map((k) => k.words)).toEqual(['on time, below 10.0 %', 'below 20.0 %', 'to report, from 20.0 %']);
});

test('A scale tells its ends and a bar tells itself', () => {
  expect(cellsOf(tile({ options: { 'cells.late': 'scale' } }), late, [0.1, 0.4], light)?.keys[0]?.words).toBe(
    '10.0 – 40.0 %',
  );
  expect(cellsOf(tile({ options: { 'cells.late': 'diverging' } }), late, [-0.1, 0.4], light)?.keys[0]?.words).toBe(
    '−10.0 – 0.0 – 40.0 %',
  );
  expect(cellsOf(tile({ options: { 'cells.late': 'diverging' } }), late, [0.1, 0.4], light)?.keys[0]?.words).toBe(
    '10.0 – 40.0 %',
  );
  expect(cellsOf(tile({ options: { 'cells.late': 'bar' } }), late, [0.1, 0.4], light)?.keys).toEqual([]);
  expect(cellsOf(tile({}), late, [0.1], light)).toBeUndefined();
});

test('Values stand in texts as they are read and in addresses as data', () => {
  const columns = [column('who', 'group', 'text'), column('n', 'figure', 'integer')];
  expect(filled('{who} of {n}, {gone}', columns, (at) => ['A/b', '1,000'][at] ?? '')).toBe('A/b of 1,000, –');
  expect(addressOf('/x/{who}?n={n}', columns, (at) => ['A/../b?&#', 1000][at] ?? null)).toBe(
    '/x/A%2F..%2Fb%3F%26%23?n=1000',
  );
});
