import { describe, expect, test } from 'vitest';
import type { TableDetail } from '../api/client';
import { emptyDraft, fieldsOf, joinsOf, measuresOf, nameOf, writeDraft } from './draft';

const column = (name: string, kind = 'text', key: number | null = null) => ({
  name,
  type: kind,
  kind,
  nullable: true,
  key,
});
const sailing: TableDetail = {
  table: { schema: null, name: 'sailing', kind: 'table', rows: 5 },
  columns: [
    column('id', 'integer', 1),
    column('route_id', 'integer'),
    column('vessel', 'integer'),
    column('wind', 'float'),
    column('fare', 'decimal'),
  ],
  references: [{ column: 'vessel', schema: null, table: 'ship', otherColumn: 'no' }],
};
const route: TableDetail = {
  table: { schema: null, name: 'route', kind: 'table', rows: 5 },
  columns: [column('id', 'integer', 1), column('fare', 'decimal')],
  references: [],
};

describe('A draft', () => {
  test('is written as a definition, any text in quotes that YAML needs', () => {
    const text = writeDraft({
      ...emptyDraft,
      name: 'd',
      title: 'Yes: "quoted" # and more',
      source: 's',
      schema: 'hr',
      table: 'sailing',
      joins: [{ table: 'route', schema: null, on: 'sailing.route_id = route.id' }],
      fields: [
        {
          name: 'a',
          column: 'a b',
          type: 'integer',
          title: 'no',
          unit: '°C',
          missing: 'fill',
          fill: '0',
          convert: true,
        },
        {
          name: 'b',
          column: 'route.name',
          type: 'text',
          title: '',
          unit: '',
          missing: 'leave_out',
          fill: '',
          convert: false,
        },
      ],
      measures: [{ name: 'm', formula: 'sum(a) / 2', title: '', format: '' }],
    });
    expect(text).toBe(
      [
        'dataset: d',
        'title: "Yes: \\"quoted\\" # and more"',
        'source: s',
        'from: hr.sailing',
        'joins:',
        '  - { table: route, on: "sailing.route_id = route.id" }',
        'fields:',
        '  a: { column: a b, type: integer, title: "no", unit: "°C", unfit: missing, missing: { fill: "0" } }',
        '  b: { column: route.name, missing: leave_out }',
        'measures:',
        '  m: { formula: "sum(a) / 2" }',
        '',
      ].join('\n'),
    );
  });

  test('keeps the lines of a query', () => {
    const text = writeDraft({ ...emptyDraft, name: 'q', source: 's', query: 'SELECT 1 AS a\nFROM t -- all: of it\n' });
    expect(text).toContain('query: |\n  SELECT 1 AS a\n  FROM t -- all: of it\nfields: {}');
  });

  test('gives columns of several tables names of their own', () => {
    const own = fieldsOf(sailing, [], true);
    expect(fieldsOf(route, own, false).map((f) => [f.name, f.column])).toEqual([
      ['id_2', 'route.id'],
      ['route_fare', 'route.fare'],
    ]);
  });

  test('sums amounts and means measurements, but no keys', () => {
    expect(measuresOf(sailing, fieldsOf(sailing, [], true)).map((m) => m.formula)).toEqual([
      'count(*)',
      'avg(wind)',
      'sum(fare)',
    ]);
  });

  test('proposes joins from foreign keys, else from names', () => {
    expect(joinsOf(sailing, [{ name: 'route' }, { name: 'ship' }, { name: 'sailing' }]).map((j) => j.on)).toEqual([
      'sailing.vessel = ship.no',
      'sailing.route_id = route.id',
    ]);
  });

  test.each([
    ['Île de café', 'le_de_caf_'],
    ['2024 plan', 'plan'],
    ['', 'field'],
  ])('makes a name that definitions take of %j', (text, name) => expect(nameOf(text)).toBe(name));
});
