import { Button, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schemas } from '../api/client';
import design from '../design/design.module.css';
import classes from './data.module.css';
import { valuesOf } from './TablesPanel';
import { table as tableOf, useSomeRows, useTables } from './useSqlSchema';

type Table = Schemas['CatalogTable'];

const keyOf = (t: Table) => (t.schema ? `${t.schema}.${t.name}` : t.name);

/** A name as SQL takes it: in quotation marks where it is none by itself. */
const quoted = (name: string) => (/^[A-Za-z_]\w*$/.test(name) ? name : `"${name.replaceAll('"', '""')}"`);

/** The tables of a source, each with its columns, their types and some values: a click writes the name where the cursor stands. */
export function SqlTables({ source, onName }: { source: string; onName: (name: string) => void }) {
  const tables = useTables(source);
  const [search, setSearch] = useState('');
  const [open, setOpen] = useState<string>();
  const wanted = search.trim().toLowerCase();
  const found = (tables.data ?? []).filter((t) => keyOf(t).toLowerCase().includes(wanted));
  return (
    <section aria-label="Tables of the source" className={classes.sqlTables}>
      <TextInput
        size="xs"
        aria-label="Search tables"
        placeholder="Search tables"
        value={search}
        onChange={(e) => setSearch(e.currentTarget.value)}
      />
      {tables.error && <p role="alert">{tables.error.message}</p>}
      <ul className={classes.parts}>
        {found.slice(0, 200).map((t) => (
          <li key={keyOf(t)}>
            <div className={classes.sqlTable}>
              <button
                type="button"
                className={design.link}
                aria-expanded={open === keyOf(t)}
                aria-label={`Columns of ${keyOf(t)}`}
                onClick={() => setOpen(open === keyOf(t) ? undefined : keyOf(t))}
              >
                {open === keyOf(t) ? '−' : '+'}
              </button>
              <button
                type="button"
                className={`${design.field} ${classes.part}`}
                onClick={() => onName([...(t.schema ? [quoted(t.schema)] : []), quoted(t.name)].join('.'))}
              >
                <span>{keyOf(t)}</span>
              </button>
            </div>
            {open === keyOf(t) && <Columns source={source} table={t} onName={onName} />}
          </li>
        ))}
      </ul>
      {found.length > 200 && <p className="quiet">{found.length - 200} more: search for them.</p>}
    </section>
  );
}

function Columns({ source, table, onName }: { source: string; table: Table; onName: (name: string) => void }) {
  const detail = useQuery({
    queryKey: ['table', source, table.schema, table.name],
    queryFn: () => tableOf(source, table.name, table.schema),
  });
  const { rows, problem, ask } = useSomeRows(source, table);
  return (
    <>
      {(detail.error || problem) && <p role="alert">{problem ?? detail.error?.message}</p>}
      <ul className={`${classes.parts} ${classes.sqlColumns}`} aria-label={`Columns of ${table.name}`}>
        {detail.data?.columns.map((c) => (
          <li key={c.name}>
            <button type="button" className={`${design.field} ${classes.part}`} onClick={() => onName(quoted(c.name))}>
              <span>{c.name}</span>
              <small>
                {c.type}
                {rows && `: ${valuesOf(rows, c.name)}`}
              </small>
            </button>
          </li>
        ))}
      </ul>
      {!rows && (
        <Button size="compact-xs" variant="subtle" onClick={ask}>
          Show some values of {table.name}
        </Button>
      )}
    </>
  );
}
