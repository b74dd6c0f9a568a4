import type { KeyboardEvent, ReactNode } from 'react';
import { bareNumber, label } from '../model/labels';
import { told } from './columnActs';
import classes from './results.module.css';
import type { Standing } from './standing';
import type { Beside, TableProps } from './tableProps';

const Others = ({ of, row }: { of: Beside[]; row: number }): ReactNode =>
  of.map((b) => (
    <td key={b.key} className={b.className}>
      {b.cell(row)}
    </td>
  ));

interface LineProps extends Standing, Pick<TableProps, 'values' | 'cell' | 'cellStyle' | 'pick' | 'isOpen'> {
  /** Its row in the result. */
  row: number;
  /** Its place on the page. */
  place: number;
  /** True where not all lines are drawn, so that each tells which one it is. */
  isLong: boolean;
  /** True for the one that Tab leads to. */
  isFirst: boolean;
  onKey: (event: KeyboardEvent<HTMLTableRowElement>, place: number, pick: () => void) => void;
}

/** A line of a table. */
export function Line(props: LineProps) {
  const { row, place, isLong, isFirst, pick, isOpen, onKey, values, cell, cellStyle } = props;
  const { shown, before, after, isFigure, classOf, styleOf } = props;
  const isPicked = pick?.isPicked(row) ?? false;
  const isFaint = pick?.hasPick === true && !isPicked;
  return (
    <tr
      data-place={place}
      aria-rowindex={isLong ? place + 2 : undefined}
      data-pickable={pick !== undefined}
      data-open={isOpen?.(row)}
      aria-selected={pick ? isPicked : undefined}
      data-faint={isFaint}
      tabIndex={pick ? (isFirst ? 0 : -1) : undefined}
      onClick={pick ? () => pick.toggle(row) : undefined}
      onKeyDown={pick ? (e) => onKey(e, place, () => pick.toggle(row)) : undefined}
    >
      <Others of={before} row={row} />
      {shown.map((c) => {
        const { column, at, written } = told(c);
        return (
          <td
            key={c.id}
            data-figure={isFigure(column)}
            data-missing={(values[at]?.[row] ?? null) === null}
            className={classOf(c.id)}
            style={{ ...(isFaint ? {} : cellStyle?.(at, row)), ...styleOf(c.id) }}
          >
            {cell ? cell(column, at, row, written(row)) : written(row)}
          </td>
        );
      })}
      <Others of={after} row={row} />
    </tr>
  );
}

/** The totals of its figures. @param words What stands below the first column that is none. */
export function Totals({
  totalOf,
  words,
  shown,
  before,
  after,
  isFigure,
  classOf,
  styleOf,
}: Standing & { totalOf: NonNullable<TableProps['totalOf']>; words: string }) {
  // Where figures stand first, the words stand with the first of the others.
  const first = shown.find((c) => told(c).column.role !== 'figure');
  return (
    <tfoot>
      <tr>
        {before.map((b) => (
          <td key={b.key} />
        ))}
        {shown.map((c) => {
          const { column, at } = told(c);
          return (
            <td key={c.id} data-figure={isFigure(column)} className={classOf(c.id)} style={styleOf(c.id)}>
              {column.role === 'figure' ? bareNumber(totalOf(at), column) : c === first ? words : ''}
            </td>
          );
        })}
        {after.map((b) => (
          <td key={b.key} />
        ))}
      </tr>
    </tfoot>
  );
}

const written = (count: number) => count.toLocaleString('en-US');

/** Which lines a page has, and the ways to the next and the one before. @param first The place of the first among all. */
export function Pager(page: {
  first: number;
  count: number;
  all: number;
  here: number;
  pages: number;
  onPage: (at: number) => void;
}) {
  const { first, count, all, here, pages, onPage } = page;
  return (
    <p className={classes.foot} role="status">
      <button type="button" disabled={here === 0} onClick={() => onPage(here - 1)}>
        Previous
      </button>
      {written(first + 1)} to {written(first + count)} of {written(all)}
      <button type="button" disabled={here === pages - 1} onClick={() => onPage(here + 1)}>
        Next
      </button>
    </p>
  );
}

/** How many of the lines meet what is asked of them, and the way to all. */
export function FilteredFoot({ count, all, onAll }: { count: number; all: number; onAll: () => void }) {
  return (
    <p className={classes.foot} role="status">
      {written(count)} of {label(all, { role: 'figure', kind: 'integer' })} rows
      <button type="button" onClick={onAll}>
        Show all
      </button>
    </p>
  );
}
