import {
  type Column,
  type ColumnDef,
  type ColumnPinningState,
  getCoreRowModel,
  getFilteredRowModel,
  type OnChangeFn,
  type SortingState,
  useReactTable,
} from '@tanstack/react-table';
import { useMemo } from 'react';
import type { Value } from '../api/client';
import { bareNumber } from '../model/labels';
import { areFilteredAlike, areSortedAlike } from '../model/lines';
import { actsOf, hiddenOf, type Row, type Told } from './columnActs';
import { type ColumnFilter, filterKept, inOrder, keptFilter, meets } from './columns';
import type { Filters, TableProps } from './tableProps';
import type { SettingOfTable } from './useSetting';

/** The lines of a table as they are sorted and filtered, and its columns as they stand. */
export function useTable(
  { columns, values, asked, without, write }: TableProps,
  { setting, setSetting, lines, ofView, setVisited, keep, leave }: SettingOfTable,
) {
  const { sorting, filters, setSorting, setFilters } = useLinesOfTable(columns, asked, lines, setVisited);
  // All but those that stand within others.
  const own = useMemo(
    () =>
      columns.flatMap((column, at) => (column.role === 'rest' || without?.has(column.name) ? [] : [{ column, at }])),
    [columns, without],
  );
  const hidden = hiddenOf(
    setting,
    own.map(({ column }) => column.name),
  );
  const isAsked = asked !== undefined;
  const ordered = lines.sorted;
  const data = useMemo(
    (): Row[] => inOrder(columns, values, isAsked ? [] : ordered).map((at) => ({ at })),
    [columns, values, ordered, isAsked],
  );
  const definitions = useMemo(
    () =>
      own.map(({ column, at }): ColumnDef<Row> => {
        const valueAt = (row: number) => (values[at]?.[row] ?? null) as Value;
        const written = (row: number) =>
          write ? write(valueAt(row), column, row, at) : bareNumber(valueAt(row), column);
        return {
          id: column.name,
          accessorFn: ({ at: row }) => values[at]?.[row],
          sortDescFirst: column.role === 'figure',
          filterFn: ({ original }, _, filter: ColumnFilter) => meets(filter, valueAt(original.at), column),
          meta: { column, at, written } satisfies Told,
        };
      }),
    [own, values, write],
  );
  const table = useReactTable({
    data,
    columns: definitions,
    state: {
      sorting,
      columnFilters: filters,
      columnOrder: setting.order,
      columnVisibility: Object.fromEntries(hidden.map((id) => [id, false])),
      columnPinning: { left: setting.pinned } as ColumnPinningState,
    },
    // The lines come in their order.
    manualSorting: true,
    manualFiltering: isAsked,
    onSortingChange: (change) => setSorting(next(change, sorting)),
    onColumnFiltersChange: (change) => setFilters(next(change, filters)),
    isMultiSortEvent: (e) => (e as MouseEvent).shiftKey,
    getCoreRowModel: getCoreRowModel(),
    getFilteredRowModel: getFilteredRowModel(),
  });
  const rows = table.getRowModel().rows;
  const shown = [...table.getLeftVisibleLeafColumns(), ...table.getCenterVisibleLeafColumns()];

  /** What can be done at the heading of a column: to the lines, where that is for this visit only, and to the column. */
  const actsAt = (column: Column<Row>, wrap: HTMLElement | null): [string, () => void][] => [
    ...(isAsked || areSortedAlike(lines, ofView)
      ? []
      : ([
          ['Keep this order', () => keep('sorted')],
          ['Leave this order', () => leave('sorted')],
        ] as [string, () => void][])),
    ...(isAsked || areFilteredAlike(lines, ofView)
      ? []
      : ([
          ['Keep this choice of lines', () => keep('filters')],
          ['Leave this choice of lines', () => leave('filters')],
        ] as [string, () => void][])),
    ...actsOf({ column, columns, shown, setting, hidden, setSetting, rows, wrap }),
  ];
  return { data, rows, shown, sorting, filters, setFilters, actsAt };
}

const next = <T>(change: Parameters<OnChangeFn<T>>[0], now: T): T =>
  typeof change === 'function' ? (change as (now: T) => T)(now) : change;

/** What sorts and filters lines, as the table library has it: what the service is asked for, or what the visit says. */
function useLinesOfTable(
  columns: TableProps['columns'],
  asked: TableProps['asked'],
  lines: SettingOfTable['lines'],
  setVisited: SettingOfTable['setVisited'],
) {
  const sorting = useMemo(
    (): SortingState =>
      asked?.sorting ??
      lines.sorted.flatMap((s) =>
        columns.some((c) => c.name === s.column) ? [{ id: s.column, desc: s.descending }] : [],
      ),
    [asked?.sorting, lines.sorted, columns],
  );
  const filters = useMemo(
    (): Filters =>
      asked?.filters ??
      lines.filters.flatMap((kept) => {
        const column = columns.find((c) => c.name === kept.column);
        const value = column && filterKept(kept, column);
        return value ? [{ id: kept.column, value }] : [];
      }),
    [asked?.filters, lines.filters, columns],
  );
  return {
    sorting,
    filters,
    setSorting:
      asked?.onSorting ??
      ((next: SortingState) => setVisited({ sorted: next.map(({ id, desc }) => ({ column: id, descending: desc })) })),
    setFilters:
      asked?.onFilters ??
      ((next: Filters) => setVisited({ filters: next.map(({ id, value }) => keptFilter(id, value as ColumnFilter)) })),
  };
}
