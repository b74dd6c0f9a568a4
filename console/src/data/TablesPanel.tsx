import { Button, Select, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { ColumnInfo, Schemas, TableDetail, Value } from '../api/client';
import design from '../design/design.module.css';
import { itemsOf, type Said, type Step, word } from '../design/written';
import { label } from '../model/labels';
import classes from './data.module.css';
import { freeNameOf, joinsOf } from './draft';
import type { Part } from './parts';
import { table as tableOf, useSomeRows, useTables } from './useSqlSchema';

interface Props {
  /** What the dataset's text says. */
  said: { [key: string]: Said };
  parts: Part[];
  take: (steps: Step[]) => Promise<boolean>;
}

type Table = Schemas['CatalogTable'];

const keyOf = (t: { schema?: string | null; name: string }) => (t.schema ? `${t.schema}.${t.name}` : t.name);
const lastOf = (table: string) => table.slice(table.lastIndexOf('.') + 1);

/** The tables of a dataset's source with their columns: a click makes a field, another table is looked up. */
export default function TablesPanel({ said, parts, take }: Props) {
  const source = word(said.source) ?? '';
  const from = word(said.from);
  const tables = useTables(source);
  const [chosen, setChosen] = useState<string>();
  // By what columns of each table are called: of those that are there already.
  const aliases = new Map<string, string>([
    ...(from ? [[lastOf(from), word(said.as) ?? lastOf(from)] as [string, string]] : []),
    ...itemsOf(said.joins).map((j): [string, string] => {
      const table = word(j.table) ?? '';
      return [lastOf(table), word(j.as) ?? lastOf(table)];
    }),
  ]);
  const shown =
    tables.data?.find((t) => keyOf(t) === chosen) ?? tables.data?.find((t) => from && t.name === lastOf(from));
  if (tables.error) return <p role="alert">{tables.error.message}</p>;
  return (
    <div className={design.form}>
      <Select
        label="A table"
        searchable
        allowDeselect={false}
        data={(tables.data ?? []).map((t) => ({
          value: keyOf(t),
          label: aliases.has(t.name) ? `${keyOf(t)}, of this dataset` : keyOf(t),
        }))}
        value={shown ? keyOf(shown) : null}
        onChange={(v) => setChosen(v ?? undefined)}
      />
      {shown && (
        <Columns
          key={keyOf(shown)}
          source={source}
          table={shown}
          alias={aliases.get(shown.name)}
          from={from}
          tables={tables.data ?? []}
          parts={parts}
          hasJoins={itemsOf(said.joins).length > 0}
          take={take}
        />
      )}
    </div>
  );
}

const detailOf = (source: string, table: { schema?: string | null; name: string }) => ({
  queryKey: ['table', source, table.schema, table.name],
  queryFn: () => tableOf(source, table.name, table.schema),
});

interface ColumnsProps {
  source: string;
  table: Table;
  /** What columns of it are called by; undefined where the dataset does not have it. */
  alias: string | undefined;
  from: string | undefined;
  tables: Table[];
  parts: Part[];
  hasJoins: boolean;
  take: Props['take'];
}

function Columns({ source, table, alias, from, tables, parts, hasJoins, take }: ColumnsProps) {
  const detail = useQuery(detailOf(source, table));
  const { rows, problem, ask } = useSomeRows(source, table);
  const taken = new Set(parts.map((p) => p.name));
  const used = new Set(parts.map((p) => p.column));
  // Columns of the dataset's own table may be called without it.
  const isMain = from !== undefined && table.name === lastOf(from);
  const add = (column: string, kind: string) => {
    const name = freeNameOf(column.toLowerCase(), table.name.toLowerCase(), taken);
    const value = { column: `${alias}.${column}`, ...(kind === 'text' ? {} : { type: kind }) };
    void take([{ do: 'set', at: ['fields', name], value: value }]);
  };
  return (
    <>
      {detail.error && <p role="alert">{detail.error.message}</p>}
      {problem && <p role="alert">{problem}</p>}
      {!alias && detail.data && (
        <Lookup source={source} table={table} from={from} tables={tables} hasJoins={hasJoins} take={take} />
      )}
      {detail.data && (
        <ul className={classes.parts} aria-label={`Columns of ${table.name}`}>
          {detail.data.columns.map((c) => {
            const isUsed = used.has(`${alias}.${c.name}`) || (isMain && used.has(c.name));
            return (
              <li key={c.name}>
                <button
                  type="button"
                  className={`${design.field} ${classes.part}`}
                  disabled={!alias || isUsed}
                  title={
                    isUsed ? 'It is a field already' : alias ? `Add ${c.name} as a field` : 'Look the table up first'
                  }
                  onClick={() => add(c.name, c.kind)}
                >
                  <span>{c.name}</span>
                  <small>
                    {c.type}
                    {isUsed && ', a field'}
                    {rows && `: ${valuesOf(rows, c.name)}`}
                  </small>
                </button>
              </li>
            );
          })}
        </ul>
      )}
      <div className={design.bar}>
        <Button size="compact-sm" variant="default" onClick={ask}>
          Show some of its values
        </Button>
      </div>
    </>
  );
}

/** The first different values of a column, as they are written. */
export function valuesOf(rows: Schemas['TableInfo'], column: string): string {
  const columns = rows.columns as ColumnInfo[];
  const at = columns.findIndex((c) => c.name === column);
  if (at < 0) return '';
  const values = ((rows.values as Value[][])[at] ?? []).map((v) => label(v, columns[at] as ColumnInfo));
  return [...new Set(values)].slice(0, 3).join(', ');
}

/** Another table is looked up by a key: at most one row of it for each row of the dataset. */
function Lookup({
  source,
  table,
  from,
  tables,
  hasJoins,
  take,
}: Pick<ColumnsProps, 'source' | 'table' | 'from' | 'tables' | 'hasJoins' | 'take'>) {
  const main = tables.find((t) => from && t.name === lastOf(from));
  const own = useQuery({ ...detailOf(source, main ?? table), enabled: main !== undefined });
  const found = own.data && joinsOf(own.data as TableDetail, tables).find((j) => j.table === table.name);
  const [written, setWritten] = useState<string>();
  const on = written ?? found?.on ?? '';
  return (
    <>
      <TextInput
        label={`How a row finds its row of ${table.name}`}
        description="A key: table.column = table.column, several with AND. Each row must find one at most."
        placeholder={`${from ? lastOf(from) : 'table'}.${table.name}_id = ${table.name}.id`}
        value={on}
        onChange={(e) => setWritten(e.currentTarget.value)}
      />
      <div className={design.bar}>
        <Button
          size="compact-sm"
          disabled={!on.trim()}
          onClick={() => {
            // Where the dataset's own table is named without its schema, its neighbours are, too.
            const isNear = from !== undefined && !from.includes('.') && main?.schema === table.schema;
            const value = { table: isNear ? table.name : keyOf(table), on: on.trim() };
            void take([
              hasJoins ? { do: 'insert', at: ['joins'], value: value } : { do: 'set', at: ['joins'], value: [value] },
            ]);
          }}
        >
          Look {table.name} up
        </Button>
      </div>
    </>
  );
}
