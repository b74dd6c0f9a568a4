import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import type { ColumnInfo, Value } from '../api/client';
import { bareNumber, label, shortNumber } from './labels';

type Case = ColumnInfo & { value: Value; text: string };
const cases = JSON.parse(readFileSync(new URL('../../../tests/label-cases.json', import.meta.url), 'utf8')) as Case[];

test.each(cases)('The console writes $value ($kind $at) as the service does: $text', (c) => {
  expect(label(c.value, c)).toBe(c.text);
});

test('A unit that stands in the heading is left out of the cells', () => {
  expect(bareNumber(12.34, { role: 'figure', kind: 'float', format: { decimals: 1, factor: 1, unit: 'min' } })).toBe(
    '12.3',
  );
});

test.each([
  [12_400, '12.4 k lt'],
  [9_999, '9,999 lt'],
  [-1_500_000, '\u22121.5 m lt'],
  [999_600, '1 m lt'],
  [2_000_000_000, '2 bn lt'],
])('%d is short as %s', (value, text) => {
  expect(shortNumber(value, { decimals: 0, factor: 1, unit: 'lt' })).toBe(text);
});
