import { describe, expect, test } from 'vitest';
import { datasetHelp, datasetOffers } from './datasetWords';
import { callAt } from './formula';
import { partsOf } from './parts';

const key = (name: string, words: string[] = []) => ({
  name,
  doc: `What ${name} is for. More of it.`,
  form: 'text',
  words,
  least: null,
  most: null,
  parts: [],
  item: null,
});
const keys = {
  dataset: ['dataset', 'source', 'fields', 'measures'].map((k) => key(k)),
  field: [key('column'), key('formula'), key('type', ['integer', 'date'])],
  measure: [key('formula'), key('format')],
};
const words = {
  names: [
    { name: 'fares', title: 'Fares', kind: 'decimal' },
    { name: 'income', title: 'Income', kind: 'measure' },
  ],
  functions: [
    { name: 'sum', signature: 'sum(number)', doc: 'their sum', inMeasures: true },
    { name: 'round', signature: 'round(number, digits)', doc: 'to so many digits', inMeasures: false },
  ],
};

describe('The function that a place of a formula is in', () => {
  test.each([
    ['sum(', 4, 'sum'],
    ['sum(fares) + 1', 14, undefined],
    ['round(sum(fares), 2)', 10, 'sum'],
    ['round(sum(fares), 2)', 18, 'round'],
    ['round((fares + 1) * 2', 21, 'round'],
    ["replace(name, 'sum(', x", 23, undefined],
    ['SUM (fares', 10, 'sum'],
    [')))(', 4, undefined],
  ])('%s at %i', (text, at, name) => expect(callAt(text, at, words.functions)?.name).toBe(name));
});

describe('In the text of a dataset', () => {
  const offers = (above: string, before: string) => datasetOffers(above, before, keys, words).map((o) => o.label);
  const fields = 'dataset: sailings\nfields:\n';
  const measures = `${fields}  fares: { column: fares }\nmeasures:\n`;
  test('its own keys are offered at the margin', () =>
    expect(offers('dataset: x\n', '')).toEqual(['dataset: ', 'source: ', 'fields: ', 'measures: ']));
  test('keys of a field within it, on one line and on several', () => {
    expect(offers(fields, '  fares: { ')).toEqual(['column: ', 'formula: ', 'type: ']);
    expect(offers(fields, '  fares: { column: x, ')).toEqual(['column: ', 'formula: ', 'type: ']);
    expect(offers(`${fields}  fares:\n`, '    ')).toEqual(['column: ', 'formula: ', 'type: ']);
    expect(offers(fields, '  ')).toEqual([]);
  });
  test('keys of a measure within one', () => expect(offers(measures, '  all: { ')).toEqual(['formula: ', 'format: ']));
  test('the words of a key', () => expect(offers(fields, '  fares: { type: ')).toEqual(['integer', 'date']));
  test('in a formula names and functions: those of many rows in measures only', () => {
    expect(offers(fields, '  late: { formula: "')).toEqual(['fares', 'round(']);
    expect(offers(measures, '  all: { formula: "sum(')).toEqual(['fares', 'income', 'sum(', 'round(']);
  });
  test('a key says what it is for where it is one', () => {
    expect(datasetHelp(fields, '  fares: { ', 'column', keys)).toBe('What column is for. More of it.');
    expect(datasetHelp(measures, '  all: { ', 'column', keys)).toBeUndefined();
    expect(datasetHelp('', '', 'source', keys)).toBe('What source is for. More of it.');
  });
});

test('Measures come before fields, each with what the text says of it', () => {
  const parts = partsOf({
    fields: {
      fares: { column: 'sailing.fares', type: 'decimal' },
      late: { formula: 'delay > 5' },
      port: { column: 'p' },
    },
    measures: { income: { formula: 'sum(fares)', title: 'Income' } },
  });
  expect(parts.map((p) => [p.name, p.isMeasure, p.type, p.formula, p.at.join('.')])).toEqual([
    ['income', true, undefined, 'sum(fares)', 'measures.income'],
    ['fares', false, 'decimal', undefined, 'fields.fares'],
    ['late', false, undefined, 'delay > 5', 'fields.late'],
    ['port', false, 'text', undefined, 'fields.port'],
  ]);
  expect(partsOf({ fields: 'broken' })).toEqual([]);
  expect(partsOf(undefined)).toEqual([]);
});
