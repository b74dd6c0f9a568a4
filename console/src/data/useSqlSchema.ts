import { useQueries, useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { api, type Schemas, type TableDetail, unwrap } from '../api/client';
import { useTold } from '../api/useTold';

/** A table of a source with its columns. */
export const table = (source: string, name: string, schema?: string | null) =>
  unwrap(
    api.GET('/api/sources/{source}/tables/{table}', {
      params: { path: { source, table: name }, query: schema ? { schema } : {} },
    }),
  );

/** The tables of a source. */
export const useTables = (source: string) =>
  useQuery({
    queryKey: ['tables', source],
    enabled: source !== '',
    queryFn: () => unwrap(api.GET('/api/sources/{source}/tables', { params: { path: { source } } })),
  });

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

const columnsOfTables = (results: { data?: TableDetail }[]): Record<string, string[]> =>
  Object.fromEntries(results.flatMap((r) => (r.data ? [[r.data.table.name, r.data.columns.map((c) => c.name)]] : [])));

/** What an editor of a query over a source completes: all tables, and the columns of those that the query names, asked for once each. */
export function useSqlSchema(source: string, query: string) {
  const tables = useTables(source);
  const named = useMemo(
    () => (tables.data ?? []).filter((t) => new RegExp(`\\b${escaped(t.name)}\\b`, 'i').test(query)).slice(0, 20),
    [tables.data, query],
  );
  const details = useQueries({
    queries: named.map((t) => ({
      queryKey: ['table', source, t.schema, t.name],
      queryFn: () => table(source, t.name, t.schema),
      staleTime: Number.POSITIVE_INFINITY,
    })),
    combine: columnsOfTables,
  });
  const schema = useMemo(
    () => Object.fromEntries((tables.data ?? []).map((t) => [t.name, details[t.name] ?? []])),
    [tables.data, details],
  );
  return { schema, first: named[0]?.name };
}

/** Some rows of a table, once they are asked for. */
export function useSomeRows(source: string, of: { schema?: string | null; name: string }) {
  const [rows, setRows] = useState<Schemas['TableInfo']>();
  const [problem, run] = useTold();
  const ask = () =>
    run(async () =>
      setRows(
        await unwrap(
          api.POST('/api/sources/{source}/tables/{table}/rows', {
            params: { path: { source, table: of.name }, query: of.schema ? { schema: of.schema } : {} },
          }),
        ),
      ),
    );
  return { rows, problem, ask };
}
