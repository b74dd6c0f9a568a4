import type { TableDetail } from '../api/client';

/** A column that the developer wants as a field. */
export interface DraftField {
  name: string;
  column: string;
  type: string;
  title: string;
  unit: string;
  /** keep, leave_out, or fill with a value. */
  missing: 'keep' | 'leave_out' | 'fill';
  fill: string;
  /** The column holds text that is read as the type. */
  convert: boolean;
}

export interface DraftMeasure {
  name: string;
  formula: string;
  title: string;
  format: string;
}

/** A table looked up by key. */
export interface DraftJoin {
  table: string;
  schema: string | null;
  on: string;
}

/** A dataset while it is put together; its text is made from it. */
export interface Draft {
  name: string;
  title: string;
  description: string;
  source: string;
  schema: string | null;
  table: string;
  /** If set, the rows come from this query and not from the table. */
  query: string;
  joins: DraftJoin[];
  fields: DraftField[];
  measures: DraftMeasure[];
}

export const emptyDraft: Draft = {
  name: '',
  title: '',
  description: '',
  source: '',
  schema: null,
  table: '',
  query: '',
  joins: [],
  fields: [],
  measures: [],
};

/** A text as YAML takes it whatever it holds: JSON's quotes are YAML's too. */
const quoted = (text: string) =>
  /^[A-Za-z][A-Za-z0-9_. -]*$/.test(text) && !reserved.has(text.toLowerCase()) ? text : JSON.stringify(text);

const reserved = new Set(['true', 'false', 'null', 'yes', 'no', 'on', 'off', 'y', 'n']);

/** A name that definitions take, made from any text. */
export function nameOf(text: string): string {
  const name = text
    .trim()
    .replace(/[^A-Za-z0-9_-]+/g, '_')
    .replace(/^[^A-Za-z]+/, '');
  return name.slice(0, 64) || 'field';
}

/** A name for the field of a column that no other field has. */
export function freeNameOf(column: string, table: string, taken: ReadonlySet<string>): string {
  const names = [nameOf(column), nameOf(`${table}_${column}`)];
  let free = names.find((n) => !taken.has(n));
  for (let i = 2; free === undefined; i++) {
    const numbered = `${names[0]}_${i}`;
    if (!taken.has(numbered)) free = numbered;
  }
  return free;
}

/** The definition as text. */
export function writeDraft(draft: Draft): string {
  const lines = [`dataset: ${draft.name || 'draft'}`];
  if (draft.title) lines.push(`title: ${quoted(draft.title)}`);
  if (draft.description) lines.push(`description: ${quoted(draft.description)}`);
  lines.push(`source: ${draft.source}`);
  if (draft.query)
    lines.push(
      'query: |',
      ...draft.query
        .trimEnd()
        .split('\n')
        .map((l) => `  ${l}`),
    );
  else lines.push(`from: ${quoted(draft.schema ? `${draft.schema}.${draft.table}` : draft.table)}`);
  if (draft.joins.length > 0) {
    lines.push('joins:');
    for (const join of draft.joins)
      lines.push(
        `  - { table: ${quoted(join.schema ? `${join.schema}.${join.table}` : join.table)}, on: ${JSON.stringify(join.on)} }`,
      );
  }
  lines.push('fields:');
  if (draft.fields.length === 0) lines[lines.length - 1] = 'fields: {}';
  for (const field of draft.fields) lines.push(`  ${field.name}: { ${fieldKeys(field).join(', ')} }`);
  if (draft.measures.length > 0) {
    lines.push('measures:');
    for (const m of draft.measures) {
      const keys = [`formula: ${JSON.stringify(m.formula)}`];
      if (m.title) keys.push(`title: ${quoted(m.title)}`);
      if (m.format) keys.push(`format: ${quoted(m.format)}`);
      lines.push(`  ${m.name}: { ${keys.join(', ')} }`);
    }
  }
  return `${lines.join('\n')}\n`;
}

function fieldKeys(field: DraftField): string[] {
  const keys = [`column: ${quoted(field.column)}`];
  if (field.type !== 'text') keys.push(`type: ${field.type}`);
  if (field.title) keys.push(`title: ${quoted(field.title)}`);
  if (field.unit) keys.push(`unit: ${quoted(field.unit)}`);
  if (field.convert) keys.push('unfit: missing');
  if (field.missing === 'leave_out') keys.push('missing: leave_out');
  if (field.missing === 'fill') keys.push(`missing: { fill: ${quoted(field.fill)} }`);
  return keys;
}

/** A field for each column of a table; joined tables' columns are called by table and column. */
export function fieldsOf(detail: TableDetail, taken: DraftField[], main: boolean): DraftField[] {
  const names = new Set(taken.map((f) => f.name));
  return detail.columns.map((c) => {
    const name = freeNameOf(c.name, detail.table.name, names);
    names.add(name);
    return {
      name,
      column: main ? c.name : `${detail.table.name}.${c.name}`,
      type: c.kind,
      title: '',
      unit: '',
      missing: 'keep',
      fill: '',
      convert: false,
    };
  });
}

/** Measures that fit most datasets: how many rows, the sum of every amount that is no key, the mean of every measurement. */
export function measuresOf(detail: TableDetail, fields: DraftField[]): DraftMeasure[] {
  const keys = new Set([
    ...detail.columns.filter((c) => c.key !== null || /(^|_)id$/i.test(c.name)).map((c) => c.name),
    ...detail.references.map((r) => r.column),
  ]);
  const sums = fields
    .filter((f) => !f.column.includes('.') && !keys.has(f.column) && ['integer', 'decimal', 'float'].includes(f.type))
    .map((f) =>
      f.type === 'float'
        ? { name: nameOf(`mean_${f.name}`), formula: `avg(${f.name})`, title: '', format: '' }
        : { name: nameOf(`total_${f.name}`), formula: `sum(${f.name})`, title: '', format: '' },
    );
  return [{ name: 'rows', formula: 'count(*)', title: 'Rows', format: 'integer' }, ...sums];
}

/** Tables that a table may look up: by its foreign keys, else by columns such as route_id beside a table route with id. */
export function joinsOf(detail: TableDetail, tables: { schema?: string | null; name: string }[]): DraftJoin[] {
  const own = detail.table.name;
  const byKey = detail.references
    .filter((r) => r.table !== own)
    .map((r) => ({
      table: r.table,
      schema: r.schema === detail.table.schema ? null : (r.schema ?? null),
      on: `${own}.${r.column} = ${r.table}.${r.otherColumn}`,
    }));
  const known = new Set(byKey.map((j) => j.table));
  const byName = detail.columns.flatMap((c) => {
    const match = /^(.+)_id$/i.exec(c.name);
    const table = match && tables.find((t) => t.name.toLowerCase() === match[1]?.toLowerCase() && t.name !== own);
    return table && !known.has(table.name)
      ? [{ table: table.name, schema: null, on: `${own}.${c.name} = ${table.name}.id` }]
      : [];
  });
  return [...byKey, ...byName];
}
