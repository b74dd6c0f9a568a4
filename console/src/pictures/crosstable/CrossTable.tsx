import { type Range, useVirtualizer } from '@tanstack/react-virtual';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { type CSSProperties, type KeyboardEvent, memo, useEffect, useMemo, useRef, useState } from 'react';
import type { Value } from '../../api/client';
import { useTokens } from '../../look/look';
import { bareNumber, formatOf, label } from '../../model/labels';
import { type ColumnSort, linesOf, visitWith } from '../../model/lines';
import { hasPick, isPicked, type Member, toggle, toggleAll } from '../../model/selections';
import type { PictureProps } from '../PictureProps';
import { CellLegend } from '../parts/CellLegend';
import { arrowOf, cellsOf } from '../parts/cells';
import { type Cross, type CrossRow, type CrossSort, crossOf, keptSort, leaves, rowKey, seen, sortKept } from './cross';
import classes from './crosstable.module.css';

/** With more rows than this, those of several levels begin folded. */
const unfolded = 40;

/** How many columns of figures, and lines, are drawn beyond what is seen, at either side. */
const [beyond, beyondDown] = [1, 2];

/** In so many columns at once they come and go: while they scroll, most frames have nothing to draw. */
const block = 4;

/** The columns in sight and those beside them, in whole blocks. */
const inBlocks = ({ startIndex, endIndex, overscan, count }: Range): number[] => {
  const from = Math.floor(Math.max(0, startIndex - overscan) / block) * block;
  const to = Math.min(count, Math.ceil((endIndex + overscan + 1) / block) * block);
  return Array.from({ length: to - from }, (_, i) => from + i);
};

/** Figures with fields down and one across. What is not in sight is not drawn, so that large ones scroll as small ones do. */
export default function CrossTable(props: PictureProps) {
  const { tile, result } = props;
  const cross = useMemo(() => crossOf(result.table, result.subtotals ?? []), [result.table, result.subtotals]);
  return cross ? <Shown key={tile.by.length} {...props} cross={cross} /> : null;
}

/** A column of figures: of a member across, or the totals. */
interface FigureColumn {
  member?: { value: Value };
  figure: number;
}

function Shown(props: PictureProps & { cross: Cross }) {
  const { tile, result, cross, selection, onSelect, table } = props;
  // Where nobody else remembers how it is sorted, it does.
  const [ownLines, setOwnLines] = useState<PictureProps['lines']>();
  const lines = props.onLines ? props.lines : ownLines;
  const t = useTokens();
  const room = useRef<HTMLDivElement>(null);
  const [kept] = (lines?.sorted ?? linesOf(table).sorted) as (ColumnSort | undefined)[];
  const sort = useMemo(() => sortKept(kept, cross), [kept, cross]);
  const setSort = (next?: CrossSort) =>
    (props.onLines ?? setOwnLines)(visitWith(lines, { sorted: next ? [keptSort(next, cross)] : [] }, linesOf(table)));
  const [folded, setFolded] = useState<ReadonlySet<string>>(
    () => new Set(seen(cross, undefined, new Set()).length > unfolded ? cross.rows.map(rowKey) : []),
  );
  const rows = useMemo(() => seen(cross, sort, folded), [cross, sort, folded]);
  const columns = useMemo(
    (): FigureColumn[] =>
      [...cross.columns.map((c) => ({ value: c.member })), undefined].flatMap((member) =>
        cross.figures.map((_, figure) => ({ member, figure })),
      ),
    [cross],
  );
  const drawn = useMemo(() => {
    const every = cross.rows.flatMap(leaves);
    return cross.figures.map((f, i) => {
      const values = every.flatMap((r) => cross.columns.map((c) => cross.cell(r.path, c.member)?.[i] ?? null));
      return cellsOf(tile, f, values, t);
    });
  }, [cross, tile, t]);
  const wide = useMemo(() => widths(cross, t.size), [cross, t.size]);
  const high = Math.round(t.size * 2.1);
  const vertical = useVirtualizer({
    count: rows.length,
    getScrollElement: () => room.current,
    estimateSize: () => high,
    overscan: beyondDown,
  });
  const horizontal = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => room.current,
    estimateSize: (i) => wide.figures[columns[i]?.figure ?? 0] ?? 80,
    overscan: beyond,
    rangeExtractor: inBlocks,
  });
  // Where rows are another height, as in large type, all is measured anew.
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was measured depends on it
  useEffect(() => vertical.measure(), [vertical, high]);
  const [down, along] = [vertical.getVirtualItems(), horizontal.getVirtualItems()];
  const before = along[0]?.start ?? 0;
  const after = horizontal.getTotalSize() - (along.at(-1)?.end ?? 0);
  const pickable = tile.pick !== 'none';
  const [at, setAt] = useState({ row: 0, column: 0 });

  const fold = (row: CrossRow) => {
    const next = new Set(folded);
    if (!next.delete(rowKey(row))) next.add(rowKey(row));
    setFolded(next);
  };
  const pick = (row: CrossRow, column?: FigureColumn) => {
    const members = membersOf(cross, row, column);
    const [only] = members;
    if (members.length === 1 && only) onSelect(toggle(selection, only, tile.pick));
    else if (tile.pick === 'many') onSelect(toggleAll(selection, members));
  };
  const chosen = useMemo(
    () =>
      hasPick(selection)
        ? (row: CrossRow, column?: FigureColumn) => {
            const members = membersOf(cross, row, column);
            return members.length > 0 && members.every((m) => isPicked(selection, m));
          }
        : undefined,
    [selection, cross],
  );

  function byKey(event: KeyboardEvent) {
    const steps: Record<string, [number, number]> = {
      ArrowDown: [1, 0],
      ArrowUp: [-1, 0],
      ArrowRight: [0, 1],
      ArrowLeft: [0, -1],
    };
    const step = steps[event.key];
    const row = rows[at.row];
    if (step) {
      event.preventDefault();
      const next = {
        row: Math.max(0, Math.min(rows.length - 1, at.row + step[0])),
        column: Math.max(-1, Math.min(columns.length - 1, at.column + step[1])),
      };
      setAt(next);
      vertical.scrollToIndex(next.row);
      if (next.column >= 0) horizontal.scrollToIndex(next.column);
      requestAnimationFrame(() =>
        room.current?.querySelector<HTMLElement>(`[data-at="${next.row} ${next.column}"]`)?.focus(),
      );
    } else if (row && (event.key === 'Enter' || event.key === ' ')) {
      event.preventDefault();
      if (at.column < 0 && row.children.length > 0) fold(row);
      else if (pickable) pick(row, columns[at.column]);
    }
  }

  const latest = useRef<Actions>(undefined);
  latest.current = { fold, pick, reach: setAt, byKey };
  // The same for as long as the table stands, so that what only scrolls is not drawn anew.
  const actions = useMemo(
    (): Actions => ({
      fold: (row) => latest.current?.fold(row),
      pick: (row, column) => latest.current?.pick(row, column),
      reach: (place) => latest.current?.reach(place),
      byKey: (event) => latest.current?.byKey(event),
    }),
    [],
  );
  const isPartial = (column: FigureColumn) =>
    column.member !== undefined && result.partial.includes(column.member.value);
  const nameOf = (column: FigureColumn) => (column.member ? label(column.member.value, cross.across) : 'All');
  const several = cross.figures.length > 1;
  // The same for as long as the same columns are drawn.
  const span = `${along[0]?.index} ${along.at(-1)?.index} ${horizontal.getTotalSize()}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: of the columns in a row the first and the last tell all
  const headings = useMemo(
    () => along.map((v) => ({ ...v, column: columns[v.index] as FigureColumn })),
    [span, columns],
  );
  // Lines are laid out each by itself, so that one that comes while they scroll has none but its own to be measured and drawn. What is
  // laid out so is no table any more to a screen reader but by the roles that it is given.
  const tracks = {
    width: wide.first + horizontal.getTotalSize(),
    '--tracks': [wide.first, before, ...along.map((v) => v.size), after]
      .flatMap((w, i) => (w > 0 || i === 0 ? [`${w}px`] : []))
      .join(' '),
  };
  return (
    <>
      <div ref={room} className={classes.room}>
        <table
          className={classes.table}
          role="grid"
          aria-label={tile.title}
          aria-rowcount={rows.length + (several ? 3 : 2)}
          aria-colcount={columns.length + 1}
          aria-multiselectable={tile.pick === 'many'}
          style={tracks as CSSProperties}
        >
          <thead role="rowgroup">
            {several && (
              <tr role="row">
                <th role="columnheader" className={classes.first} scope="col">
                  {cross.across.title}
                </th>
                {gap(before > 0)}
                {spans(headings, cross.figures.length).map(({ column, span, key }) => (
                  <th
                    key={key}
                    role="columnheader"
                    scope="colgroup"
                    colSpan={span}
                    style={{ gridColumn: `span ${span}` }}
                    className={classes.across}
                    data-partial={isPartial(column)}
                    title={isPartial(column) ? 'Not the whole period' : undefined}
                  >
                    {nameOf(column)}
                  </th>
                ))}
                {gap(after > 0)}
              </tr>
            )}
            <tr role="row">
              <th role="columnheader" className={classes.first} scope="col" aria-sort="none">
                <button type="button" title="In their own order" onClick={() => setSort(undefined)}>
                  {cross.down.map((d) => d.title).join(' › ')}
                </button>
              </th>
              {gap(before > 0)}
              {headings.map(({ key, index, column }) => {
                const isSorted = sort?.figure === column.figure && same(sort.member, column.member);
                const figure = cross.figures[column.figure] as Cross['figures'][number];
                const unit = formatOf(figure).unit;
                return (
                  <th
                    key={key}
                    role="columnheader"
                    scope="col"
                    aria-colindex={index + 2}
                    data-partial={!several && isPartial(column)}
                    aria-sort={isSorted ? (sort.down ? 'descending' : 'ascending') : 'none'}
                  >
                    <button
                      type="button"
                      onClick={() => setSort(isSorted && !sort.down ? undefined : { ...column, down: !isSorted })}
                    >
                      {several ? `${figure.title}${unit ? `, ${unit}` : ''}` : nameOf(column)}
                      {isSorted && (sort.down ? ' ↓' : ' ↑')}
                    </button>
                  </th>
                );
              })}
              {gap(after > 0)}
            </tr>
          </thead>
          <tbody role="rowgroup" style={{ height: vertical.getTotalSize(), paddingTop: down[0]?.start ?? 0 }}>
            {down.map(({ index }) => {
              const row = rows[index];
              if (!row) return null;
              return (
                <Line
                  key={rowKey(row)}
                  row={row}
                  index={index}
                  tile={tile}
                  cross={cross}
                  drawn={drawn}
                  headings={headings}
                  before={before > 0}
                  after={after > 0}
                  high={high}
                  wide={wide}
                  indent={t.size * 1.2}
                  isFolded={folded.has(rowKey(row))}
                  reached={at.row === index ? at.column : undefined}
                  chosen={chosen}
                  actions={actions}
                />
              );
            })}
          </tbody>
          <tfoot role="rowgroup">
            <tr role="row">
              <th role="rowheader" scope="row" className={classes.first}>
                Total
              </th>
              {gap(before > 0)}
              {headings.map(({ key, column }) => {
                const of = column.member
                  ? cross.columns.find((c) => c.member === column.member?.value)?.totals
                  : cross.total;
                return (
                  <td key={key} role="gridcell" data-total={!column.member}>
                    {bareNumber(of?.[column.figure] ?? null, cross.figures[column.figure] as Cross['figures'][number])}
                  </td>
                );
              })}
              {gap(after > 0)}
            </tr>
          </tfoot>
        </table>
      </div>
      <CellLegend columns={cross.figures} looks={drawn} />
    </>
  );
}

/** What a line and its cells bring about. */
interface Actions {
  fold: (row: CrossRow) => void;
  pick: (row: CrossRow, column?: FigureColumn) => void;
  /** The keyboard is on a cell; on the name of its line at column −1. */
  reach: (place: { row: number; column: number }) => void;
  byKey: (event: KeyboardEvent) => void;
}

interface Heading {
  key: React.Key;
  index: number;
  size: number;
  column: FigureColumn;
}

interface LineProps {
  row: CrossRow;
  index: number;
  tile: PictureProps['tile'];
  cross: Cross;
  drawn: ReturnType<typeof cellsOf>[];
  headings: Heading[];
  /** Whether there are columns that are not drawn, at either side. */
  before: boolean;
  after: boolean;
  /** How high it is, in pixels. */
  high: number;
  wide: Widths;
  /** By how much each level stands further in, in pixels. */
  indent: number;
  isFolded: boolean;
  /** The column that the keyboard is on, if it is on this line. */
  reached: number | undefined;
  /** Whether a cell is picked; left out where nothing is. */
  chosen: ((row: CrossRow, column?: FigureColumn) => boolean) | undefined;
  actions: Actions;
}

/** Stands for the columns that are not drawn. */
const gap = (isThere: boolean) => (isThere ? <td aria-hidden /> : null);

/** A line: its name, and its cells as far as they are in sight. */
const Line = memo(function Line(props: LineProps) {
  const { row, index, tile, cross, headings, before, after, high, indent, isFolded, reached, actions } = props;
  const depth = row.path.length - 1;
  const name = label(row.path[depth], cross.down[depth] as Cross['down'][number]);
  const isGroup = row.children.length > 0;
  return (
    <tr
      role="row"
      aria-rowindex={index + (cross.figures.length > 1 ? 3 : 2)}
      data-group={isGroup}
      style={{ height: high }}
    >
      <th
        role="rowheader"
        scope="row"
        className={classes.first}
        data-at={`${index} -1`}
        tabIndex={reached === -1 ? 0 : -1}
        aria-expanded={isGroup ? !isFolded : undefined}
        data-cut={widthOf(name, props.wide.size) + (depth * indent + 16) > props.wide.first || undefined}
        style={{ paddingLeft: 4 + depth * indent }}
        onFocus={() => actions.reach({ row: index, column: -1 })}
        onKeyDown={actions.byKey}
      >
        {isGroup && (
          <button
            type="button"
            tabIndex={-1}
            aria-label={isFolded ? `Unfold ${name}` : `Fold ${name}`}
            onClick={() => actions.fold(row)}
          >
            {isFolded ? <ChevronRight size={13} aria-hidden /> : <ChevronDown size={13} aria-hidden />}
          </button>
        )}
        {tile.pick === 'many' ? (
          <button type="button" tabIndex={-1} title={`Pick all of ${name}`} onClick={() => actions.pick(row)}>
            {name}
          </button>
        ) : (
          name
        )}
      </th>
      {gap(before)}
      {headings.map(({ key, index: place, column }) => (
        <FigureCell
          key={key}
          row={row}
          index={index}
          place={place}
          column={column}
          wide={props.wide}
          tile={tile}
          cross={cross}
          drawn={props.drawn}
          isReached={reached === place}
          chosen={props.chosen}
          actions={actions}
        />
      ))}
      {gap(after)}
    </tr>
  );
});

/** A figure of a line. */
const FigureCell = memo(function FigureCell({
  row,
  index,
  place,
  column,
  wide,
  tile,
  cross,
  drawn,
  isReached,
  chosen,
  actions,
}: Pick<LineProps, 'row' | 'index' | 'wide' | 'tile' | 'cross' | 'drawn' | 'chosen' | 'actions'> & {
  place: number;
  column: FigureColumn;
  isReached: boolean;
}) {
  const pickable = tile.pick !== 'none';
  const figures = column.member ? cross.cell(row.path, column.member.value) : row.totals;
  const value = figures?.[column.figure] ?? null;
  const isChosen = pickable && chosen?.(row, column) === true;
  const text = figures ? bareNumber(value, cross.figures[column.figure] as Cross['figures'][number]) : '';
  return (
    <td
      role="gridcell"
      data-at={`${index} ${place}`}
      data-total={column.member ? undefined : true}
      // Only those that need it: what is cut off is a surface of its own to the browser.
      data-cut={widthOf(text, wide.size) > (wide.figures[column.figure] ?? 0) || undefined}
      data-faint={(chosen !== undefined && !isChosen) || undefined}
      aria-selected={pickable ? isChosen : undefined}
      aria-colindex={place + 2}
      tabIndex={isReached ? 0 : -1}
      style={column.member && row.children.length === 0 ? drawn[column.figure]?.style(value) : undefined}
      onFocus={() => actions.reach({ row: index, column: place })}
      onKeyDown={actions.byKey}
      onClick={pickable && figures ? () => actions.pick(row, column) : undefined}
    >
      {arrowOf(tile.options[`cells.${cross.figures[column.figure]?.name}`], value)}
      {text}
    </td>
  );
});

/** What is picked with a cell, or with a whole line. */
const membersOf = (cross: Cross, row: CrossRow, column?: FigureColumn): Member[] =>
  leaves(row).flatMap((leaf) =>
    (column?.member ? [column.member.value] : cross.columns.map((c) => c.member))
      .filter((m) => cross.cell(leaf.path, m))
      .map((m) => [...leaf.path, m]),
  );

const same = (a: { value: Value } | undefined, b: { value: Value } | undefined) => a?.value === b?.value && !a === !b;

/** The headings of members over their figures, as far as these are drawn. */
function spans(headings: { key: React.Key; column: FigureColumn }[], figures: number) {
  const all: { key: string; column: FigureColumn; span: number }[] = [];
  for (const { key, column } of headings) {
    const last = all.at(-1);
    if (last && same(last.column.member, column.member) && last.span < figures) last.span++;
    else all.push({ key: `over ${key}`, column, span: 1 });
  }
  return all;
}

/** How much room a text in letters of a size takes at most, with what is around it, in pixels. */
const widthOf = (text: string, size: number) => text.length * size * 0.58 + 18;

/** How wide the column of the names and those of the figures are, in pixels, for letters of a size. */
interface Widths {
  size: number;
  first: number;
  figures: number[];
}

/** How wide columns are, so that the longest of what stands in them has room, in pixels. */
function widths(cross: Cross, size: number): Widths {
  const wide = (text: string) => widthOf(text, size);
  const several = cross.figures.length > 1;
  const names = cross.columns.map((c) => label(c.member, cross.across));
  const longest = (texts: string[]) => Math.max(0, ...texts.map(wide));
  return {
    size,
    first: Math.min(
      260,
      Math.max(
        longest([cross.down.map((d) => d.title).join(' › ')]),
        ...cross.rows
          .flatMap((r) => [r, ...leaves(r)])
          .map((r) => {
            const depth = r.path.length - 1;
            return wide(label(r.path[depth], cross.down[depth] as Cross['down'][number])) + depth * size * 1.2 + 16;
          }),
      ),
    ),
    figures: cross.figures.map((f, i) => {
      const figures = [cross.total, ...cross.columns.map((c) => c.totals)].map((x) => bareNumber(x[i], f));
      const heading = several ? [`${f.title}, ${formatOf(f).unit}`] : names;
      return Math.max(56, Math.min(180, longest([...figures, ...heading])));
    }),
  };
}
