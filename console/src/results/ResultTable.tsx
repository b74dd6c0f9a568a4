import { useElementSize, useLocalStorage } from '@mantine/hooks';
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
import { useVirtualizer } from '@tanstack/react-virtual';
import { EllipsisVertical } from 'lucide-react';
import { type CSSProperties, type KeyboardEvent, lazy, type ReactNode, useMemo, useRef, useState } from 'react';
import type { ColumnInfo, Value } from '../api/client';
import { useTokens } from '../look/look';
import { MenuButton } from '../look/MenuButton';
import { bareNumber, formatOf, label } from '../model/labels';
import { areFilteredAlike, areSortedAlike, type Lines, linesOf, visitWith } from '../model/lines';
import tiles from '../tiles/tiles.module.css';
import { actsOf, asPublished, fittingWidth, hiddenOf, type Row, type Setting, type Told, told } from './columnActs';
import { type ColumnFilter, filterKept, filterOf, inOrder, keptFilter, meets } from './columns';
import { useFit, useLefts } from './fit';
import classes from './results.module.css';

// There are many headings, and few menus are ever opened.
const loadMenu = () => import('./ColumnMenu');
const ColumnMenu = lazy(loadMenu);

/** With more rows than this, those that are not in sight are not drawn. */
const drawnWhole = 120;

/** What lines have to meet, by column. */
export type Filters = { id: string; value: unknown }[];

interface Props {
  /** What the table is called. */
  title: string;
  /** Under which name the viewer's order and widths of columns are kept in the browser, where they are kept nowhere else. */
  name: string;
  /** How the columns stand as published. */
  published?: Setting;
  /** Where the viewer's are kept elsewhere: what they are, and what becomes of a change. */
  kept?: { setting: Setting; onSetting: (setting: Setting | undefined) => void };
  /** How its lines are sorted and filtered in this visit, where that outlasts the table: what is said, and what becomes of a change. */
  visit?: { lines?: Partial<Lines>; onLines: (lines: Partial<Lines> | undefined) => void };
  columns: ColumnInfo[];
  values: Value[][];
  weekStarts: string;
  /** False where columns can be sorted by and nothing more. */
  hasTools?: boolean;
  /** Where the service sorts and filters, since not all rows are here: how, and what becomes of a change. */
  asked?: {
    sorting: SortingState;
    onSorting: (sorting: SortingState) => void;
    filters: Filters;
    onFilters: (filters: Filters) => void;
  };
  /** Columns that stand within the cells of others, and have none of their own. */
  without?: ReadonlySet<string>;
  /** How a cell is written; as in a table of figures, the unit in the heading, if left out. */
  write?: (value: Value, column: ColumnInfo, row: number, at: number) => string;
  /** What stands in a cell, if more than it says. */
  cell?: (column: ColumnInfo, at: number, row: number, written: string) => ReactNode;
  cellStyle?: (at: number, row: number) => CSSProperties | undefined;
  /** Columns before and after those of the result. */
  before?: Beside[];
  after?: Beside[];
  /** How rows are picked; left out where they are not. */
  pick?: { toggle: (row: number) => void; isPicked: (row: number) => boolean; hasPick: boolean };
  /** True for a row that is opened. */
  isOpen?: (row: number) => boolean;
  /** The totals of the columns of figures, by the column's place among all. */
  totalOf?: (at: number) => Value;
  /** How many lines a page has; all of them one below the other if left out. */
  page?: number;
  /** What stands below the table. */
  foot?: ReactNode;
}

/** A column that is no column of the result. */
export interface Beside {
  key: string;
  heading: ReactNode;
  className?: string;
  headClassName?: string;
  cell: (row: number) => ReactNode;
}

// One for all, so that the buttons that show it are not drawn anew with the figures.
const menuIcon = <EllipsisVertical size={12} aria-hidden />;

/** Rows and columns: a heading sorts, its menu filters and moves, and where it is meant to a row can be picked. */
export function ResultTable({
  title,
  name,
  published = asPublished,
  kept,
  visit,
  columns,
  values,
  weekStarts,
  hasTools = true,
  asked,
  without,
  write,
  cell,
  cellStyle,
  before = none,
  after = none,
  pick,
  isOpen,
  totalOf,
  page = 0,
  foot,
}: Props) {
  const count = values[0]?.length ?? 0;
  // Of rows every number is one; of results the numbers by which members are called are none.
  const isFigure = (c: ColumnInfo) => c.role === 'figure' || (asked !== undefined && filterOf(c) === 'number');
  const [ownSetting, setOwnSetting, forgetSetting] = useLocalStorage<Setting>({
    key: `weir-table-${name}-${columns.map((c) => c.name).join(' ')}`,
    defaultValue: published,
    getInitialValueInEffect: false,
  });
  // While the hand draws at the edge of a column nothing is kept.
  const [atEdge, setAtEdge] = useState<{ id: string; width: number }>();
  const stored = kept?.setting ?? ownSetting;
  const setting = atEdge ? { ...stored, widths: { ...stored.widths, [atEdge.id]: atEdge.width } } : stored;
  const setSetting = (change: (setting: Setting) => Setting) => {
    const next = change(stored);
    if (kept) kept.onSetting(next === asPublished ? undefined : next);
    else if (next === asPublished) forgetSetting();
    else setOwnSetting(next);
  };
  // What a browser kept before lines were kept has none.
  const ofView = linesOf(setting);
  // A click on a heading, and what is filtered, lasts for the visit until it is kept.
  const [ownVisit, setOwnVisit] = useState<Partial<Lines>>();
  const visited = visit ? visit.lines : ownVisit;
  const setVisited = (part: Partial<Lines>) => (visit?.onLines ?? setOwnVisit)(visitWith(visited, part, ofView));
  const lines = { ...ofView, ...visited };
  const ordered = lines.sorted;
  const sorting = useMemo(
    (): SortingState =>
      asked?.sorting ??
      ordered.flatMap((s) => (columns.some((c) => c.name === s.column) ? [{ id: s.column, desc: s.descending }] : [])),
    [asked?.sorting, ordered, columns],
  );
  const setSorting = (next: SortingState) =>
    setVisited({ sorted: next.map(({ id, desc }) => ({ column: id, descending: desc })) });
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
  const setFilters = (next: Filters) =>
    setVisited({ filters: next.map(({ id, value }) => keptFilter(id, value as ColumnFilter)) });
  const hidden = hiddenOf(
    setting,
    columns.filter((c) => c.role !== 'rest' && !without?.has(c.name)).map((c) => c.name),
  );
  const isAsked = asked !== undefined;
  const data = useMemo(
    (): Row[] => inOrder(columns, values, isAsked ? [] : ordered).map((at) => ({ at })),
    [columns, values, ordered, isAsked],
  );
  const [pageAt, setPageAt] = useState(0);
  const definitions = useMemo(
    () =>
      columns.flatMap((column, at): ColumnDef<Row>[] => {
        if (column.role === 'rest' || without?.has(column.name)) return [];
        const written = (row: number): string => {
          const value = (values[at]?.[row] ?? null) as Value;
          return write ? write(value, column, row, at) : bareNumber(value, column);
        };
        return [
          {
            id: column.name,
            accessorFn: ({ at: row }) => values[at]?.[row],
            sortDescFirst: column.role === 'figure',
            filterFn: ({ original }, _, filter: ColumnFilter) =>
              meets(filter, (values[at]?.[original.at] ?? null) as Value, column),
            meta: { column, at, written } satisfies Told,
          },
        ];
      }),
    [columns, values, write, without],
  );
  const next = <T,>(change: Parameters<OnChangeFn<T>>[0], now: T): T =>
    typeof change === 'function' ? (change as (now: T) => T)(now) : change;
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
    onSortingChange: (change) => (asked?.onSorting ?? setSorting)(next(change, sorting)),
    onColumnFiltersChange: (change) => (asked?.onFilters ?? setFilters)(next(change, filters)),
    isMultiSortEvent: (e) => (e as MouseEvent).shiftKey,
    getCoreRowModel: getCoreRowModel(),
    getFilteredRowModel: getFilteredRowModel(),
  });
  const every = table.getRowModel().rows;
  // A page beyond the last, since there are fewer lines now, is the last.
  const pages = page > 0 ? Math.max(1, Math.ceil(every.length / page)) : 1;
  const here = Math.min(pageAt, pages - 1);
  const rows = page > 0 ? every.slice(here * page, (here + 1) * page) : every;
  const shown = [...table.getLeftVisibleLeafColumns(), ...table.getCenterVisibleLeafColumns()];
  // Where figures stand first, the words about totals stand with the first of the others.
  const words = shown.findIndex((c) => told(c).column.role !== 'figure');
  const { ref, height } = useElementSize();
  const wrap = useRef<HTMLDivElement>(null);
  const isLong = rows.length > drawnWhole;
  const tokens = useTokens();
  const virtual = useVirtualizer({
    count: isLong ? rows.length : 0,
    // Nor is one measured that is drawn whole.
    getScrollElement: () => (isLong ? wrap.current : null),
    estimateSize: () => tokens.size * 1.5 + 9,
    overscan: 6,
  });
  const inSight = virtual.getVirtualItems();
  const drawn = isLong ? inSight.map((v) => rows[v.index]).filter((r) => r !== undefined) : rows;
  const above = isLong ? (inSight[0]?.start ?? 0) : 0;
  const below = isLong ? virtual.getTotalSize() - (inSight.at(-1)?.end ?? 0) : 0;
  const fit = useFit(
    wrap,
    height,
    totalOf !== undefined && !isLong && filters.length === 0,
    `${rows.length} ${shown.length}`,
  );
  const lefts = useLefts(wrap, setting.pinned, `${shown.map((c) => c.id)} ${JSON.stringify(setting.widths)} ${height}`);

  function byKey(event: KeyboardEvent<HTMLTableRowElement>, row: number, place: number) {
    if (event.target !== event.currentTarget) return;
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      pick?.toggle(row);
    }
    const to = event.key === 'ArrowDown' ? place + 1 : event.key === 'ArrowUp' ? place - 1 : undefined;
    if (to === undefined || to < 0 || to >= rows.length) return;
    event.preventDefault();
    if (isLong) virtual.scrollToIndex(to);
    requestAnimationFrame(() => wrap.current?.querySelector<HTMLElement>(`[data-place="${to}"]`)?.focus());
  }

  /** The width, and where it is pinned the place, of a column. */
  const styleOf = (id: string): CSSProperties | undefined => {
    const width = setting.widths[id];
    const left = lefts[id];
    if (width === undefined && left === undefined) return undefined;
    return {
      ...(width === undefined
        ? {}
        : { width, minWidth: width, maxWidth: width, overflow: 'hidden', textOverflow: 'ellipsis' }),
      ...(left === undefined ? {} : { left }),
    };
  };
  const pinned = (id: string) => (setting.pinned.includes(id) ? classes.pinned : undefined);
  const leave = (part: keyof Lines) => setVisited({ [part]: ofView[part] });
  const keep = (part: keyof Lines) => {
    setSetting((s) => ({ ...s, [part]: lines[part] }));
    leave(part);
  };
  const acts = (column: Column<Row>): [string, () => void][] => [
    ...(asked || areSortedAlike(lines, ofView)
      ? []
      : ([
          ['Keep this order', () => keep('sorted')],
          ['Leave this order', () => leave('sorted')],
        ] as [string, () => void][])),
    ...(asked || areFilteredAlike(lines, ofView)
      ? []
      : ([
          ['Keep this choice of lines', () => keep('filters')],
          ['Leave this choice of lines', () => leave('filters')],
        ] as [string, () => void][])),
    ...actsOf({ column, columns, shown, setting, hidden, setSetting, rows: every, wrap: wrap.current }),
  ];

  return (
    <div ref={ref} className={tiles.tableRoom}>
      <div
        ref={wrap}
        className={tiles.tableWrap}
        style={fit.height === undefined ? undefined : { maxHeight: fit.height }}
        tabIndex={pick ? undefined : 0}
      >
        <table
          className={tiles.table}
          aria-label={title}
          role={pick ? 'grid' : undefined}
          aria-rowcount={isLong ? rows.length + 1 : undefined}
          data-dense={fit.dense}
        >
          <thead>
            <tr>
              {before.map((b) => (
                <th key={b.key} scope="col" className={b.headClassName}>
                  {b.heading}
                </th>
              ))}
              {shown.map((c) => {
                const { column } = told(c);
                const order = c.getIsSorted();
                const place = c.getSortIndex();
                // Where it does not move the words away from what stands below them.
                const menu = hasTools && (
                  <MenuButton
                    label={`Column ${column.title}`}
                    icon={menuIcon}
                    className={classes.more}
                    size={16}
                    load={loadMenu}
                  >
                    <ColumnMenu
                      column={column}
                      weekStarts={weekStarts}
                      filter={c.getFilterValue() as ColumnFilter | undefined}
                      onFilter={(filter) => c.setFilterValue(filter)}
                      members={() => [...new Set(data.map((r) => told(c).written(r.at)))].sort()}
                      isPart={asked !== undefined}
                      acts={acts(c)}
                    />
                  </MenuButton>
                );
                return (
                  <th
                    key={c.id}
                    scope="col"
                    data-column={c.id}
                    data-figure={isFigure(column)}
                    className={pinned(c.id)}
                    style={styleOf(c.id)}
                    aria-sort={order === 'desc' ? 'descending' : order === 'asc' ? 'ascending' : 'none'}
                  >
                    {isFigure(column) && menu}
                    <button
                      type="button"
                      title="Sort; with Shift, sort by this after the others"
                      onClick={c.getToggleSortingHandler()}
                    >
                      {column.title}
                      {column.role === 'figure' && formatOf(column).unit && `, ${formatOf(column).unit}`}
                      {order && (order === 'desc' ? ' ↓' : ' ↑')}
                      {order && sorting.length > 1 && <sub>{place + 1}</sub>}
                    </button>
                    {!isFigure(column) && menu}
                    <Edge
                      onDraw={(width) => setAtEdge({ id: c.id, width })}
                      onLeave={(width) => {
                        if (width !== undefined) setSetting((s) => ({ ...s, widths: { ...s.widths, [c.id]: width } }));
                        setAtEdge(undefined);
                      }}
                    />
                  </th>
                );
              })}
              {after.map((b) => (
                <th key={b.key} scope="col" className={b.headClassName}>
                  {b.heading}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {above > 0 && <tr aria-hidden style={{ height: above }} />}
            {drawn.map((r, i) => {
              const row = r.original.at;
              const place = isLong ? (inSight[i]?.index ?? i) : i;
              const picked = pick?.isPicked(row) ?? false;
              const isFaint = pick?.hasPick === true && !picked;
              return (
                <tr
                  key={row}
                  data-place={place}
                  aria-rowindex={isLong ? place + 2 : undefined}
                  data-pickable={pick !== undefined}
                  data-open={isOpen?.(row)}
                  aria-selected={pick ? picked : undefined}
                  data-faint={isFaint}
                  tabIndex={pick ? (i === 0 ? 0 : -1) : undefined}
                  onClick={pick ? () => pick.toggle(row) : undefined}
                  onKeyDown={pick ? (e) => byKey(e, row, place) : undefined}
                >
                  {before.map((b) => (
                    <td key={b.key} className={b.className}>
                      {b.cell(row)}
                    </td>
                  ))}
                  {shown.map((c) => {
                    const { column, at, written } = told(c);
                    return (
                      <td
                        key={c.id}
                        data-figure={isFigure(column)}
                        data-missing={(values[at]?.[row] ?? null) === null}
                        className={pinned(c.id)}
                        style={{ ...(isFaint ? {} : cellStyle?.(at, row)), ...styleOf(c.id) }}
                      >
                        {cell ? cell(column, at, row, written(row)) : written(row)}
                      </td>
                    );
                  })}
                  {after.map((b) => (
                    <td key={b.key} className={b.className}>
                      {b.cell(row)}
                    </td>
                  ))}
                </tr>
              );
            })}
            {below > 0 && <tr aria-hidden style={{ height: below }} />}
          </tbody>
          {totalOf && (
            <tfoot>
              <tr>
                {before.map((b) => (
                  <td key={b.key} />
                ))}
                {shown.map((c, i) => {
                  const { column, at } = told(c);
                  return (
                    <td key={c.id} data-figure={isFigure(column)} className={pinned(c.id)} style={styleOf(c.id)}>
                      {column.role === 'figure'
                        ? bareNumber(totalOf(at), column)
                        : i === words
                          ? fit.height === undefined && filters.length === 0
                            ? 'Total'
                            : `Total of ${filters.length > 0 ? 'all ' : ''}${count.toLocaleString('en-US')}`
                          : ''}
                    </td>
                  );
                })}
                {after.map((b) => (
                  <td key={b.key} />
                ))}
              </tr>
            </tfoot>
          )}
        </table>
      </div>
      {foot}
      {pages > 1 && (
        <p className={classes.foot} role="status">
          <button type="button" disabled={here === 0} onClick={() => setPageAt(here - 1)}>
            Previous
          </button>
          {(here * page + 1).toLocaleString('en-US')} to {(here * page + rows.length).toLocaleString('en-US')} of{' '}
          {every.length.toLocaleString('en-US')}
          <button type="button" disabled={here === pages - 1} onClick={() => setPageAt(here + 1)}>
            Next
          </button>
        </p>
      )}
      {filters.length > 0 && !asked && (
        <p className={classes.foot} role="status">
          {every.length.toLocaleString('en-US')} of {label(count, { role: 'figure', kind: 'integer' })} rows
          <button type="button" onClick={() => setFilters([])}>
            Show all
          </button>
        </p>
      )}
    </div>
  );
}

const none: Beside[] = [];

/** The right edge of a heading, by which its column is made wider or narrower; left without a width where the hand did not move. */
function Edge({ onDraw, onLeave }: { onDraw: (width: number) => void; onLeave: (width?: number) => void }) {
  const from = useRef<{ x: number; width: number; drawn?: number }>(undefined);
  const [isMoved, setMoved] = useState(false);
  return (
    <span
      className={classes.edge}
      data-moved={isMoved}
      aria-hidden
      onPointerDown={(e) => {
        from.current = { x: e.clientX, width: e.currentTarget.parentElement?.offsetWidth ?? 0 };
        setMoved(true);
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => {
        if (!from.current) return;
        from.current.drawn = fittingWidth(from.current.width + e.clientX - from.current.x);
        onDraw(from.current.drawn);
      }}
      onLostPointerCapture={() => {
        const drawn = from.current?.drawn;
        from.current = undefined;
        setMoved(false);
        onLeave(drawn);
      }}
    />
  );
}
