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
  const t = useTokens();
  const { columns, values } = result.table;
  const setting = useMemo(() => settingOf(tile.table), [tile.table]);
  const [sorted, setSorted] = useState(setting.sorted);
  const sort = sorted[0];
  // Where there are too many for the page, there are too many for paper.
  const courses = ((result.courses ?? []) as Course[]).filter((c) => !c.isCut);
  const rest = columns.findIndex((c) => c.role === 'rest');
  const shown = useMemo(() => {
    const names = columns.filter((c) => c.role !== 'rest').map((c) => c.name);
    return shownIn(setting, names).flatMap((name) => {
      const at = columns.findIndex((c) => c.name === name);
      const column = columns[at];
      return column ? [{ column, at }] : [];
    });
  }, [columns, setting]);
  // Where a view has figures first, the words about totals stand with the first of the others.
  const words = shown.findIndex(({ column }) => !isFigure(column.role));
  const looks = useMemo(() => columns.map((c, i) => cellsOf(tile, c, values[i] ?? [], t)), [columns, values, tile, t]);
  const lines = useMemo(
    () => meeting(columns, values, setting.filters, inOrder(columns, values, sorted)),
    [columns, values, setting.filters, sorted],
  );
  const count = values[0]?.length ?? 0;
  const titleOf = (name: string) => columns.find((c) => c.name === name)?.title ?? name;
  return (
    <>
      {lines.length < count && (
        <p className={classes.filters}>
          {lines.length.toLocaleString('en-US')} of {count.toLocaleString('en-US')} lines,{' '}
          {linesInWords({ sorted: [], filters: setting.filters }, titleOf)} in this view
          {result.totals ? '; the total is that of all' : ''}.
        </p>
      )}
      {most !== undefined && lines.length > most && (
        <p className={classes.filters}>
          The first {most} of {lines.length.toLocaleString('en-US')} lines that it has.
        </p>
      )}
      <table className={classes.table}>
        <thead>
          <tr>
            {shown.map(({ column }) => (
              <th
                key={column.name}
                scope="col"
                data-figure={isFigure(column.role) || undefined}
                aria-sort={sort?.column === column.name ? (sort.descending ? 'descending' : 'ascending') : undefined}
              >
                {isSortable ? (
                  <button
                    type="button"
                    onClick={() =>
                      setSorted([
                        {
                          column: column.name,
                          descending: sort?.column === column.name ? !sort.descending : isFigure(column.role),
                        },
                      ])
                    }
                  >
                    {heading(column)}
                    {sort?.column === column.name && (sort.descending ? ' ↓' : ' ↑')}
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
        <tbody>
          {lines.slice(0, most).map((line) => (
            <tr key={line}>
              {shown.map(({ column, at }, place) => (
                <td
                  key={column.name}
                  data-figure={isFigure(column.role) || undefined}
                  style={values[rest]?.[line] === true ? undefined : looks[at]?.style(values[at]?.[line] ?? null)}
                >
                  {arrowOf(tile.options?.[`cells.${column.name}`], values[at]?.[line])}
                  <Cell
                    tile={tile}
                    columns={columns}
                    column={column}
                    isWhole={values[rest]?.[line] !== true}
                    cellAt={(i) => (values[i]?.[line] ?? null) as Value}
                  >
                    {place === 0 && values[rest]?.[line] === true
                      ? allOthers
                      : written(values[at]?.[line] ?? null, column)}
                  </Cell>
                </td>
              ))}
              {courses.map((c) => (
                <td key={courseName(c)}>
                  <SmallCourse course={c} values={c.lines[line] ?? []} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
        {result.totals && (
          <tbody>
            <tr className={classes.total}>
              {shown.map(({ column, at }, place) => (
                <td key={column.name} data-figure={isFigure(column.role) || undefined}>
                  {isFigure(column.role)
                    ? written(result.totals?.[placeOfFigure(columns, at)] ?? null, column)
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
        )}
      </table>
      <CellLegend columns={columns} looks={looks} />
    </>
  );
}

type Column = PictureProps['result']['table']['columns'][number];

const heading = ({ title, format }: Column) =>
  format?.unit && format.factor === 1 ? `${title}, ${format.unit}` : title;

/** A unit stands once, in the heading. */
const written = (value: Value, column: Column) =>
  label(value, column.format?.factor === 1 ? { ...column, format: { ...column.format, unit: '' } } : column);
