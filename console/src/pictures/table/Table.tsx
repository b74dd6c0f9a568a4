import { useElementSize, useLocalStorage } from '@mantine/hooks';
import {
  type Column,
  type ColumnDef,
  type ColumnPinningState,
  getCoreRowModel,
  getFilteredRowModel,
  getSortedRowModel,
  type SortingState,
  useReactTable,
} from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { EllipsisVertical } from 'lucide-react';
import {
  type CSSProperties,
  type KeyboardEvent,
  lazy,
  useCallback,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import type { ColumnInfo, Value } from '../../api/client';
import { useTokens } from '../../look/look';
import { MenuButton } from '../../look/MenuButton';
import { allOthers, bareNumber, formatOf, label } from '../../model/labels';
import { hasPick, isPicked, isRestPicked, type Member, toggle, toggleRest } from '../../model/selections';
import tiles from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';
import { CellLegend } from '../parts/CellLegend';
import { addressOf, arrowOf, cellsOf, filled, namesIn } from '../parts/cells';
import { asLine, type ColumnFilter, meets, sortValue } from './columns';
import { type Course, SmallCourse } from './SmallCourse';
import classes from './table.module.css';

// There are many headings, and few menus are ever opened.
const loadMenu = () => import('./ColumnMenu');
const ColumnMenu = lazy(loadMenu);

/** With more rows than this, those that are not in sight are not drawn. */
const drawnWhole = 120;
/** How many pixels lower a row is where that lets all of them be seen. */
const saved = 4;
/** The least width of a column, and how much wider or narrower one step makes it, in pixels. */
const [narrowest, step] = [40, 40];

/** A row by its place in the result. */
interface Row {
  at: number;
}

/** Where and how wide the columns stand, as the viewer of this browser has set them. */
interface Setting {
  order: string[];
  hidden: string[];
  pinned: string[];
  widths: Record<string, number>;
}
const asPublished: Setting = { order: [], hidden: [], pinned: [], widths: {} };

/** Rows and columns: a heading sorts, its menu filters and moves, a row can be picked. */
export default function TablePicture(props: PictureProps) {
  const { columns } = props.result.table;
  // Other columns are another table: what was set of one means nothing for the other.
  return <Lines key={columns.map((c) => c.name).join(' ')} {...props} />;
}

function Lines({ tile, result, selection, onSelect, weekStarts }: PictureProps) {
  const { columns, values } = result.table;
  const restAt = columns.findIndex((c) => c.role === 'rest');
  const groups = columns.filter((c) => c.role === 'group').length;
  const count = values[0]?.length ?? 0;
  const isRest = useCallback((row: number) => restAt >= 0 && values[restAt]?.[row] === true, [restAt, values]);
  const [sorting, setSorting] = useState<SortingState>([]);
  const [filters, setFilters] = useState<{ id: string; value: unknown }[]>([]);
  const [setting, setSetting] = useLocalStorage<Setting>({
    key: `weir-table-${tile.name}-${columns.map((c) => c.name).join(' ')}`,
    defaultValue: asPublished,
    getInitialValueInEffect: false,
  });
  const data = useMemo((): Row[] => Array.from({ length: count }, (_, at) => ({ at })), [count]);
  const inOthers = useMemo(
    () =>
      new Set(
        Object.entries(tile.cells?.written ?? {}).flatMap(([name, text]) =>
          namesIn(text).filter((other) => other !== name),
        ),
      ),
    [tile.cells],
  );
  const page = Number(tile.options?.page ?? 0);
  const [pageAt, setPageAt] = useState(0);
  const definitions = useMemo(
    () =>
      columns.flatMap((column, at): ColumnDef<Row>[] => {
        // What stands within the cells of another column has none of its own.
        if (column.role === 'rest' || inOthers.has(column.name)) return [];
        const written = (row: number): string =>
          at === 0 && isRest(row) ? allOthers : bareNumber(values[at]?.[row] as Value, column);
        return [
          {
            id: column.name,
            accessorFn: ({ at: row }) => sortValue((values[at]?.[row] ?? null) as Value, column),
            sortUndefined: 'last',
            sortDescFirst: column.role === 'figure',
            sortingFn: (a, b, id) => {
              const [x, y] = [a.getValue<string>(id), b.getValue<string>(id)];
              return x < y ? -1 : x > y ? 1 : 0;
            },
            filterFn: ({ original }, _, filter: ColumnFilter) =>
              meets(filter, (values[at]?.[original.at] ?? null) as Value, column),
            meta: { column, at, written } satisfies Told,
          },
        ];
      }),
    [columns, values, isRest, inOthers],
  );
  const table = useReactTable({
    data,
    columns: definitions,
    state: {
      sorting,
      columnFilters: filters,
      columnOrder: setting.order,
      columnVisibility: Object.fromEntries(setting.hidden.map((name) => [name, false])),
      columnPinning: { left: setting.pinned } as ColumnPinningState,
    },
    onSortingChange: setSorting,
    onColumnFiltersChange: setFilters,
    isMultiSortEvent: (e) => (e as MouseEvent).shiftKey,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
    getFilteredRowModel: getFilteredRowModel(),
  });
  const every = table.getRowModel().rows;
  // A page beyond the last, since there are fewer lines now, is the last.
  const pages = page > 0 ? Math.max(1, Math.ceil(every.length / page)) : 1;
  const here = Math.min(pageAt, pages - 1);
  const rows = page > 0 ? every.slice(here * page, (here + 1) * page) : every;
  const shown = [...table.getLeftVisibleLeafColumns(), ...table.getCenterVisibleLeafColumns()];
  const { ref, height } = useElementSize();
  const wrap = useRef<HTMLDivElement>(null);
  const isLong = rows.length > drawnWhole;
  const tokens = useTokens();
  const virtual = useVirtualizer({
    count: isLong ? rows.length : 0,
    getScrollElement: () => wrap.current,
    estimateSize: () => tokens.size * 1.5 + 9,
    overscan: 20,
  });
  const inSight = virtual.getVirtualItems();
  const drawn = isLong ? inSight.map((v) => rows[v.index]).filter((r) => r !== undefined) : rows;
  const above = isLong ? (inSight[0]?.start ?? 0) : 0;
  const below = isLong ? virtual.getTotalSize() - (inSight.at(-1)?.end ?? 0) : 0;
  const fit = useFit(
    wrap,
    height,
    result.totals !== null && !isLong && filters.length === 0,
    `${rows.length} ${shown.length}`,
  );
  const lefts = useLefts(wrap, setting.pinned, `${shown.map((c) => c.id)} ${JSON.stringify(setting.widths)} ${height}`);

  const cells = useMemo(
    () => columns.map((c, i) => cellsOf(tile, c, values[i] ?? [], tokens)),
    [columns, values, tile, tokens],
  );
  const courses = (result.courses ?? noCourses) as Course[];
  const member = (row: number): Member => Array.from({ length: groups }, (_, g) => (values[g]?.[row] ?? null) as Value);
  const pickable = tile.pick !== 'none';
  const pick = (row: number) =>
    onSelect(
      isRest(row)
        ? toggleRest(
            selection,
            data.filter((r) => !isRest(r.at)).map((r) => member(r.at)),
            tile.pick,
          )
        : toggle(selection, member(row), tile.pick),
    );

  function byKey(event: KeyboardEvent<HTMLTableRowElement>, row: number, place: number) {
    if (event.target !== event.currentTarget) return;
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      pick(row);
    }
    const to = event.key === 'ArrowDown' ? place + 1 : event.key === 'ArrowUp' ? place - 1 : undefined;
    if (to === undefined || to < 0 || to >= rows.length) return;
    event.preventDefault();
    if (isLong) virtual.scrollToIndex(to);
    requestAnimationFrame(() => wrap.current?.querySelector<HTMLElement>(`[data-place="${to}"]`)?.focus());
  }

  /** The width, and where it is pinned the place, of a column. */
  const styleOf = (name: string): CSSProperties | undefined => {
    const width = setting.widths[name];
    const left = lefts[name];
    if (width === undefined && left === undefined) return undefined;
    return {
      ...(width === undefined
        ? {}
        : { width, minWidth: width, maxWidth: width, overflow: 'hidden', textOverflow: 'ellipsis' }),
      ...(left === undefined ? {} : { left }),
    };
  };
  const pinned = (name: string) => (setting.pinned.includes(name) ? classes.pinned : undefined);
  const acts = (column: Column<Row>): [string, () => void][] =>
    actsOf({ column, columns, shown, setting, setSetting, rows: every, wrap: wrap.current });

  return (
    <div ref={ref} className={tiles.tableRoom}>
      <div
        ref={wrap}
        className={tiles.tableWrap}
        style={fit.height === undefined ? undefined : { maxHeight: fit.height }}
        tabIndex={pickable ? undefined : 0}
      >
        <table
          className={tiles.table}
          aria-label={tile.title}
          role={pickable ? 'grid' : undefined}
          aria-rowcount={isLong ? rows.length + 1 : undefined}
          data-dense={fit.dense}
        >
          <thead>
            <tr>
              {shown.map((c) => {
                const { column, at, written } = told(c);
                const order = c.getIsSorted();
                const place = c.getSortIndex();
                // Where it does not move the words away from what stands below them.
                const menu = tile.hasTools && (
                  <MenuButton
                    label={`Column ${column.title}`}
                    icon={<EllipsisVertical size={12} aria-hidden />}
                    className={classes.more}
                    size={16}
                    load={loadMenu}
                  >
                    <ColumnMenu
                      column={column}
                      weekStarts={weekStarts}
                      filter={c.getFilterValue() as ColumnFilter | undefined}
                      onFilter={(filter) => c.setFilterValue(filter)}
                      members={() =>
                        [...new Set(data.map((r) => (isRest(r.at) && at === 0 ? allOthers : written(r.at))))].sort()
                      }
                      acts={acts(c)}
                    />
                  </MenuButton>
                );
                return (
                  <th
                    key={c.id}
                    scope="col"
                    data-column={c.id}
                    data-figure={column.role === 'figure'}
                    className={pinned(c.id)}
                    style={styleOf(c.id)}
                    aria-sort={order === 'desc' ? 'descending' : order === 'asc' ? 'ascending' : 'none'}
                  >
                    {column.role === 'figure' && menu}
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
                    {column.role !== 'figure' && menu}
                    <Edge onWidth={(width) => setSetting((s) => ({ ...s, widths: { ...s.widths, [c.id]: width } }))} />
                  </th>
                );
              })}
              {courses.map((c) => (
                <th key={courseName(c)} scope="col" className={classes.courseHead}>
                  {c.figure.title} by {c.along.title.toLowerCase()}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {above > 0 && <tr aria-hidden style={{ height: above }} />}
            {drawn.map((r, i) => {
              const row = r.original.at;
              const place = isLong ? (inSight[i]?.index ?? i) : i;
              const picked = isRest(row) ? isRestPicked(selection) : isPicked(selection, member(row));
              const isFaint = hasPick(selection) && !picked;
              return (
                <tr
                  key={row}
                  data-place={place}
                  aria-rowindex={isLong ? place + 2 : undefined}
                  data-pickable={pickable}
                  aria-selected={pickable ? picked : undefined}
                  data-faint={isFaint}
                  tabIndex={pickable ? (i === 0 ? 0 : -1) : undefined}
                  onClick={pickable ? () => pick(row) : undefined}
                  onKeyDown={pickable ? (e) => byKey(e, row, place) : undefined}
                >
                  {shown.map((c) => {
                    const { column, at, written } = told(c);
                    return (
                      <td
                        key={c.id}
                        data-figure={column.role === 'figure'}
                        className={pinned(c.id)}
                        style={{ ...(isFaint ? {} : cells[at]?.style(values[at]?.[row] ?? null)), ...styleOf(c.id) }}
                      >
                        {arrowOf(tile.options?.[`cells.${column.name}`], values[at]?.[row])}
                        <Cell
                          tile={tile}
                          columns={columns}
                          column={column}
                          isWhole={!isRest(row)}
                          cellAt={(at) => (values[at]?.[row] ?? null) as Value}
                        >
                          {written(row)}
                        </Cell>
                        {cells[at]?.words?.(values[at]?.[row]) && (
                          <span className="hidden-visually">, {cells[at]?.words?.(values[at]?.[row])}</span>
                        )}
                      </td>
                    );
                  })}
                  {courses.map((c) => (
                    <td key={courseName(c)} className={classes.courseCell}>
                      {c.isCut ? '' : <SmallCourse course={c} values={c.lines[row] ?? []} />}
                    </td>
                  ))}
                </tr>
              );
            })}
            {below > 0 && <tr aria-hidden style={{ height: below }} />}
          </tbody>
          {result.totals && (
            <tfoot>
              <tr>
                {shown.map((c, i) => {
                  const { column, at } = told(c);
                  return (
                    <td
                      key={c.id}
                      data-figure={column.role === 'figure'}
                      className={pinned(c.id)}
                      style={styleOf(c.id)}
                    >
                      {column.role === 'figure'
                        ? bareNumber(result.totals?.[at - groups - (restAt >= 0 ? 1 : 0)] as Value, column)
                        : i === 0
                          ? fit.height === undefined && filters.length === 0
                            ? 'Total'
                            : `Total of ${filters.length > 0 ? 'all ' : ''}${count.toLocaleString('en-US')}`
                          : ''}
                    </td>
                  );
                })}
                {courses.map((c) => (
                  <td key={courseName(c)} />
                ))}
              </tr>
            </tfoot>
          )}
        </table>
      </div>
      <CellLegend columns={columns} looks={cells} />
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
      {courses.some((c) => c.isCut) && (
        <p className={classes.foot}>Too many lines and periods for small pictures: filter, or take a coarser grain.</p>
      )}
      {filters.length > 0 && (
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

/** What stands in a cell: the figure or name, a text of several columns, or a way to somewhere. */
function Cell({
  tile,
  columns,
  column,
  isWhole,
  cellAt,
  children,
}: {
  tile: PictureProps['tile'];
  columns: ColumnInfo[];
  column: ColumnInfo;
  /** False for the line of the rest, which is of no one member. */
  isWhole: boolean;
  cellAt: (at: number) => Value;
  children: string;
}) {
  const { written, links } = tile.cells ?? {};
  const pattern = isWhole ? written?.[column.name] : undefined;
  const text = pattern ? filled(pattern, columns, (at) => label(cellAt(at), columns[at] as ColumnInfo)) : children;
  const link = isWhole ? links?.[column.name] : undefined;
  if (!link) return text;
  return (
    <a
      href={addressOf(link, columns, cellAt)}
      target="_blank"
      rel="noopener noreferrer"
      onClick={(e) => e.stopPropagation()}
    >
      {text}
    </a>
  );
}

const noCourses: Course[] = [];
const courseName = ({ figure, along, as }: Course) => `${figure.name} ${along.name} ${as}`;

/** What is known of a column beside what the table library keeps. */
interface Told {
  column: ColumnInfo;
  /** Its place in the result. */
  at: number;
  /** A cell of it as it is written. */
  written: (row: number) => string;
}
const told = (column: Column<Row>) => column.columnDef.meta as Told;

/** What can be done with a column: where it stands, whether it stays in sight, how wide it is, taking it along. */
function actsOf({
  column,
  columns,
  shown,
  setting,
  setSetting,
  rows,
  wrap,
}: {
  column: Column<Row>;
  columns: ColumnInfo[];
  shown: Column<Row>[];
  setting: Setting;
  setSetting: (change: (setting: Setting) => Setting) => void;
  rows: { original: Row }[];
  wrap: HTMLElement | null;
}): [string, () => void][] {
  const { id } = column;
  const isPinned = setting.pinned.includes(id);
  const names = shown.map((c) => c.id);
  const at = names.indexOf(id);
  const toggled = (part: 'hidden' | 'pinned', name: string) => (s: Setting) => ({
    ...s,
    [part]: s[part].includes(name) ? s[part].filter((n) => n !== name) : [...s[part], name],
  });
  const moved = (by: number) => () =>
    setSetting((s) => {
      const order = [...names, ...s.hidden];
      order.splice(at + by, 0, ...order.splice(at, 1));
      return { ...s, order };
    });
  const sized = (by: number) => () => {
    const now =
      setting.widths[id] ?? wrap?.querySelector<HTMLElement>(`[data-column="${CSS.escape(id)}"]`)?.offsetWidth ?? 120;
    setSetting((s) => ({ ...s, widths: { ...s.widths, [id]: Math.max(narrowest, now + by) } }));
  };
  const copied = (columns: Column<Row>[]) => () =>
    void navigator.clipboard.writeText(
      [
        asLine(columns.map((c) => told(c).column.title)),
        ...rows.map((r) => asLine(columns.map((c) => told(c).written(r.original.at)))),
      ].join('\n'),
    );
  const canMove = (to: number) => names[to] !== undefined && setting.pinned.includes(names[to] ?? '') === isPinned;
  const isSet = JSON.stringify(setting) !== JSON.stringify(asPublished);
  return [
    ...(canMove(at - 1) ? [['Move left', moved(-1)] as [string, () => void]] : []),
    ...(canMove(at + 1) ? [['Move right', moved(1)] as [string, () => void]] : []),
    [isPinned ? 'Let it scroll' : 'Keep it in sight', () => setSetting(toggled('pinned', id))],
    ['Wider', sized(step)],
    ['Narrower', sized(-step)],
    ...(setting.widths[id] === undefined
      ? []
      : [
          [
            'As wide as it needs',
            () =>
              setSetting((s) => ({
                ...s,
                widths: Object.fromEntries(Object.entries(s.widths).filter(([n]) => n !== id)),
              })),
          ] as [string, () => void],
        ]),
    ...(shown.length > 1 ? [['Hide it', () => setSetting(toggled('hidden', id))] as [string, () => void]] : []),
    ...setting.hidden.map((name): [string, () => void] => [
      `Show ${columns.find((c) => c.name === name)?.title ?? name}`,
      () => setSetting(toggled('hidden', name)),
    ]),
    // Browsers let nobody write to the clipboard where the page came without TLS.
    ...(navigator.clipboard
      ? ([
          ['Copy this column', copied([column])],
          ['Copy the table', copied(shown)],
        ] as [string, () => void][])
      : []),
    ...(isSet ? [['Columns as published', () => setSetting(() => asPublished)] as [string, () => void]] : []),
  ];
}

/** The right edge of a heading, by which its column is made wider or narrower. */
function Edge({ onWidth }: { onWidth: (width: number) => void }) {
  const from = useRef<{ x: number; width: number }>(undefined);
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
        if (from.current) onWidth(Math.max(narrowest, from.current.width + e.clientX - from.current.x));
      }}
      onPointerUp={() => {
        from.current = undefined;
        setMoved(false);
      }}
    />
  );
}

/** Whether rows are a little lower so that all are seen, or how high they are in all so that none is cut by the totals. */
function useFit(wrap: React.RefObject<HTMLDivElement | null>, height: number, hasTotals: boolean, what: string) {
  const [fit, setFit] = useState<{ dense: boolean; height?: number }>({ dense: false });
  // biome-ignore lint/correctness/useExhaustiveDependencies: what the rows take depends on it
  useLayoutEffect(() => {
    const table = wrap.current?.querySelector('table');
    if (!table || height === 0 || !hasTotals) return setFit({ dense: false });
    setFit((was) => {
      const heightOf = (part: string) => table.querySelector<HTMLElement>(part)?.offsetHeight ?? 0;
      const count = table.querySelectorAll('tr').length;
      const over = table.offsetHeight + (was.dense ? saved * count : 0) - height;
      // So many pixels less a row make room for the last one, which would else hide under the totals.
      const dense = over > 0 && over <= saved * count;
      const row = heightOf('tbody tr');
      // Else whole rows stand above the totals, and none that is cut.
      const fixed = heightOf('thead') + heightOf('tfoot');
      const whole = over > 0 && !dense && row > 0 ? fixed + Math.floor((height - fixed) / row) * row : undefined;
      return was.dense === dense && was.height === whole ? was : { dense, height: whole };
    });
  }, [height, hasTotals, what]);
  return fit;
}

/** Where each pinned column stands, beside those before it. */
function useLefts(wrap: React.RefObject<HTMLDivElement | null>, pinned: string[], what: string) {
  const [lefts, setLefts] = useState<Record<string, number>>({});
  // biome-ignore lint/correctness/useExhaustiveDependencies: how wide the columns are depends on it
  useLayoutEffect(() => {
    let left = 0;
    const next: Record<string, number> = {};
    for (const name of pinned) {
      next[name] = left;
      left += wrap.current?.querySelector<HTMLElement>(`[data-column="${CSS.escape(name)}"]`)?.offsetWidth ?? 0;
    }
    setLefts((was) => (JSON.stringify(was) === JSON.stringify(next) ? was : next));
  }, [pinned, what]);
  return lefts;
}
