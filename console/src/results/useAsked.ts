import { useDebouncedValue } from '@mantine/hooks';
import type { SortingState } from '@tanstack/react-table';
import { useMemo, useState } from 'react';
import type { ColumnInfo, Schemas } from '../api/client';
import { type ColumnFilter, conditionsOf } from './columns';
import type { Filters } from './tableProps';

/** How long nobody types before the service is asked, in milliseconds. */
const rest = 250;

/** How rows are sorted and filtered where the service has most of them: what the table shows, and what it is asked for. */
export function useAsked(onChange?: () => void) {
  const [sorting, setSorting] = useState<SortingState>([]);
  const [filters, setFilters] = useState<Filters>([]);
  // What a filter says depends on its column, which is remembered for when an answer has it no more.
  const [known, setKnown] = useState<ReadonlyMap<string, ColumnInfo>>(new Map());
  const [still] = useDebouncedValue(filters, rest);
  const where = useMemo(
    (): Schemas['RowCondition'][] =>
      still.flatMap(({ id, value }) => {
        const column = known.get(id);
        return column ? conditionsOf(value as ColumnFilter, column) : [];
      }),
    [still, known],
  );
  return {
    /** For the service. */
    sort: sorting.map(({ id, desc }): Schemas['RowSort'] => ({ field: id, descending: desc })),
    where,
    clear: () => setFilters([]),
    /** For the table. */
    of: (columns: ColumnInfo[]) => ({
      sorting,
      filters,
      onSorting: (next: SortingState) => {
        setSorting(next);
        onChange?.();
      },
      onFilters: (next: Filters) => {
        setKnown((was) => new Map([...was, ...columns.map((c) => [c.name, c] as const)]));
        setFilters(next);
        onChange?.();
      },
    }),
  };
}
