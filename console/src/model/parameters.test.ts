import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import type { ParameterState } from '../api/client';
import { effectiveSettings, faultOf, isPeriod, knownSettings, readSettings, writeSettings } from './parameters';
import { periodSpan } from './periodSpan';
import { instant } from './selections';

const parameter = (part: Partial<ParameterState>): ParameterState => ({
  name: 'p',
  title: 'P',
  description: null,
  type: 'integer',
  many: false,
  optional: false,
  values: ['10'],
  opening: ['10'],
  least: '0',
  most: '60',
  choices: null,
  asksChoices: false,
  presents: false,
  datasets: [],
  ...part,
});

const cases = JSON.parse(readFileSync(new URL('../../../tests/period-cases.json', import.meta.url), 'utf8')) as {
  text: string;
  reads: boolean;
  now?: string;
  weekStarts?: string;
  from?: string;
  to?: string;
}[];

test.each(cases)('A period is read as the service reads it: $text', ({ text, reads }) => {
  expect(isPeriod(text)).toBe(reads);
  if (text !== '') expect(faultOf(parameter({ type: 'period' }), text) === undefined).toBe(reads);
});

test.each(cases.filter((c) => c.now))('A period spans what the service says: $text at $now', (c) => {
  const span = periodSpan(c.text, c.now ?? '', c.weekStarts ?? '');
  expect([instant(String(span?.from)), instant(String(span?.to))]).toEqual([c.from, c.to]);
});

test('All time, and what is no period, spans nothing', () => {
  expect(['all time', 'last fortnight', ''].map((t) => periodSpan(t, '2025-01-01T00:00:00', 'monday'))).toEqual([
    undefined,
    undefined,
    undefined,
  ]);
});

describe('What is set', () => {
  test('travels in the address and is left out where it is as it opened', () => {
    const set = readSettings(writeSettings({ p: ['30'], gone: ['x'], q: [] }));
    expect(knownSettings(set, [parameter({}), parameter({ name: 'q', opening: [] })])).toEqual({ p: ['30'] });
    expect(knownSettings({ p: ['10'] }, [parameter({})])).toEqual({});
  });

  test.each(['{', '[]', '{"p":"30"}', '{"p":[3]}', 'null'])('is nothing where the address holds %s', (text) =>
    expect(readSettings(text)).toEqual({}),
  );

  test.each([
    [{}, '61', 'At most 60.'],
    [{}, '-1', 'At least 0.'],
    [{}, '1.5', 'A whole number is needed.'],
    [{}, '', 'A value is needed.'],
    [{ optional: true }, '', undefined],
    [{ type: 'decimal' }, '1.5', undefined],
    [{ type: 'date', least: '2025-01-01', most: null }, '2024-12-31', 'Not before 2025-01-01.'],
  ])('is checked before it is asked: %j %j', (part, text, fault) =>
    expect(faultOf(parameter(part as Partial<ParameterState>), text)).toBe(fault),
  );
});

describe('Choices of how tiles are drawn', () => {
  const choices = ['week', 'month'].map((value) => ({ value, title: value }));
  const grain = (values: string[]) =>
    parameter({ name: 'grain', type: 'text', values, opening: ['month'], choices, presents: true });

  test('hold as the page was fetched with them, whatever the address says by now', () => {
    const address = { grain: ['month'], p: ['20'], gone: ['1'] };
    expect(effectiveSettings(address, [grain(['week']), parameter({})])).toEqual({ grain: ['week'], p: ['20'] });
    expect(effectiveSettings({ grain: ['week'] }, [grain(['month'])])).toEqual({});
  });

  test('that are not offered are left out', () => {
    expect(knownSettings({ grain: ['day'] }, [grain(['month'])])).toEqual({});
    expect(knownSettings({ grain: ['week'] }, [grain(['month'])])).toEqual({ grain: ['week'] });
  });
});
