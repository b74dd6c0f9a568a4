import { useMemo, useState } from 'react';
import type { Value } from '../api/client';
import { useTokens } from '../look/look';
import { allOthers, label } from '../model/labels';
import { linesInWords } from '../model/lines';
import type { PictureProps } from '../pictures/PictureProps';
import { CellLegend } from '../pictures/parts/CellLegend';
import { arrowOf, cellsOf } from '../pictures/parts/cells';
import { Cell } from '../pictures/table/Cell';
import { type Course, courseName, courseTitle, SmallCourse } from '../pictures/table/SmallCourse';
import { settingOf, shownIn } from '../results/columnActs';
import { inOrder, meeting } from '../results/columns';
import classes from './paper.module.css';
import { isFigure, placeOfFigure } from './paperData';

interface Props {
  tile: PictureProps['tile'];
  result: PictureProps['result'];
  isSortable: boolean;
  /** So many lines have room; the others are told of. */
  most?: number;
}

/**
 * All lines of a table, one below the other. On paper headings come again on each sheet, where they are no buttons, which are drawn once
 * only; elsewhere a click on one sorts by it.
 */
export function PaperTable({ tile, result, isSortable, most }: Props) {
  const table = useTable(tile, result);
  const { columns, shown, courses, lines, looks } = table;
  return (
    <>
      <LeftOut {...table} hasTotals={!!result.totals} most={most} />
      <table className={classes.table}>
        <Headings {...table} isSortable={isSortable} />
        <tbody>
          {lines.slice(0, most).map((line) => (
            <Line key={line} {...table} tile={tile} line={line} />
          ))}
        </tbody>
        {result.totals && <Totals columns={columns} shown={shown} courses={courses} totals={result.totals} />}
      </table>
      <CellLegend columns={columns} looks={looks} />
    </>
  );
}

type Column = PictureProps['result']['table']['columns'][number];
type Table = ReturnType<typeof useTable>;

/** What of a result stands in the table: columns, lines in their order, and how cells look. */
function useTable(tile: PictureProps['tile'], result: PictureProps['result']) {
  const t = useTokens();
  const { columns, values } = result.table;
  const setting = useMemo(() => settingOf(tile.table), [tile.table]);
  const [sorted, setSorted] = useState(setting.sorted);
  const shown = useMemo(() => {
    const names = columns.filter((c) => c.role !== 'rest').map((c) => c.name);
    return shownIn(setting, names).flatMap((name) => {
      const at = columns.findIndex((c) => c.name === name);
      const column = columns[at];
      return column ? [{ column, at }] : [];
    });
  }, [columns, setting]);
  const looks = useMemo(() => columns.map((c, i) => cellsOf(tile, c, values[i] ?? [], t)), [columns, values, tile, t]);
  const lines = useMemo(
    () => meeting(columns, values, setting.filters, inOrder(columns, values, sorted)),
    [columns, values, setting.filters, sorted],
  );
  // Where there are too many for the page, there are too many for paper.
  const courses = ((result.courses ?? []) as Course[]).filter((c) => !c.isCut);
  return { columns, values, setting, sorted, setSorted, shown, looks, lines, courses };
}

/** Which lines are left out, and by what. */
function LeftOut(
  props: Pick<Table, 'columns' | 'values' | 'setting' | 'lines'> & { hasTotals: boolean; most?: number },
) {
  const { columns, values, setting, lines, hasTotals, most } = props;
  const count = values[0]?.length ?? 0;
  const titleOf = (name: string) => columns.find((c) => c.name === name)?.title ?? name;
  return (
    <>
      {lines.length < count && (
        <p className={classes.filters}>
          {lines.length.toLocaleString('en-US')} of {count.toLocaleString('en-US')} lines,{' '}
          {linesInWords({ sorted: [], filters: setting.filters }, titleOf)} in this view
          {hasTotals ? '; the total is that of all' : ''}.
        </p>
      )}
      {most !== undefined && lines.length > most && (
        <p className={classes.filters}>
          The first {most} of {lines.length.toLocaleString('en-US')} lines that it has.
        </p>
      )}
    </>
  );
}

type HeadingsProps = Pick<Table, 'shown' | 'courses' | 'sorted' | 'setSorted'> & { isSortable: boolean };

function Headings({ shown, courses, sorted, setSorted, isSortable }: HeadingsProps) {
  const sort = sorted[0];
  const isBy = (column: Column) => sort?.column === column.name;
  const sortBy = (column: Column) =>
    setSorted([{ column: column.name, descending: isBy(column) ? !sort?.descending : isFigure(column.role) }]);
  return (
    <thead>
      <tr>
        {shown.map(({ column }) => (
          <th
            key={column.name}
            scope="col"
            data-figure={isFigure(column.role) || undefined}
            aria-sort={isBy(column) ? (sort?.descending ? 'descending' : 'ascending') : undefined}
          >
            {isSortable ? (
              <button type="button" onClick={() => sortBy(column)}>
                {heading(column)}
                {isBy(column) && (sort?.descending ? ' ↓' : ' ↑')}
              </button>
            ) : (
              heading(column)
            )}
          </th>
        ))}
        {courses.map((c) => (
          <th key={courseName(c)} scope="col">
            {courseTitle(c)}
          </th>
        ))}
      </tr>
    </thead>
  );
}

type LineProps = Pick<Table, 'columns' | 'values' | 'shown' | 'looks' | 'courses'> & {
  tile: PictureProps['tile'];
  line: number;
};

/** @param line Its place in the result. */
function Line({ columns, values, shown, looks, courses, tile, line }: LineProps) {
  const isRest = values[columns.findIndex((c) => c.role === 'rest')]?.[line] === true;
  const cellAt = (i: number) => (values[i]?.[line] ?? null) as Value;
  return (
    <tr>
      {shown.map(({ column, at }, place) => (
        <td
          key={column.name}
          data-figure={isFigure(column.role) || undefined}
          style={isRest ? undefined : looks[at]?.style(cellAt(at))}
        >
          {arrowOf(tile.options?.[`cells.${column.name}`], values[at]?.[line])}
          <Cell tile={tile} columns={columns} column={column} isWhole={!isRest} cellAt={cellAt}>
            {place === 0 && isRest ? allOthers : written(cellAt(at), column)}
          </Cell>
        </td>
      ))}
      {courses.map((c) => (
        <td key={courseName(c)}>
          <SmallCourse course={c} values={c.lines[line] ?? []} />
        </td>
      ))}
    </tr>
  );
}

type TotalsProps = Pick<Table, 'columns' | 'shown' | 'courses'> & { totals: readonly Value[] };

function Totals({ columns, shown, courses, totals }: TotalsProps) {
  // Where a view has figures first, the words about totals stand with the first of the others.
  const words = shown.findIndex(({ column }) => !isFigure(column.role));
  return (
    <tbody>
      <tr className={classes.total}>
        {shown.map(({ column, at }, place) => (
          <td key={column.name} data-figure={isFigure(column.role) || undefined}>
            {isFigure(column.role)
              ? written(totals[placeOfFigure(columns, at)] ?? null, column)
              : place === words
                ? 'Total'
                : ''}
          </td>
        ))}
        {courses.map((c) => (
          <td key={courseName(c)} />
        ))}
      </tr>
    </tbody>
  );
}

const heading = ({ title, format }: Column) =>
  format?.unit && format.factor === 1 ? `${title}, ${format.unit}` : title;

/** A unit stands once, in the heading. */
const written = (value: Value, column: Column) =>
  label(value, column.format?.factor === 1 ? { ...column, format: { ...column.format, unit: '' } } : column);
