import { useCallback, useMemo } from 'react';
import type { ColumnInfo, Value } from '../../api/client';
import { useTokens } from '../../look/look';
import { allOthers, bareNumber } from '../../model/labels';
import { hasPick, isPicked, isRestPicked, type Member, toggle, toggleRest } from '../../model/selections';
import { type Setting, settingOf, tableOf } from '../../results/columnActs';
import { ResultTable } from '../../results/ResultTable';
import results from '../../results/results.module.css';
import type { PictureProps } from '../PictureProps';
import { CellLegend } from '../parts/CellLegend';
import { arrowOf, cellsOf, namesIn } from '../parts/cells';
import { Cell } from './Cell';
import { type Course, courseName, courseTitle, SmallCourse } from './SmallCourse';
import classes from './table.module.css';

/** Rows and columns of members and their figures: a heading sorts, its menu filters and moves, a row can be picked. */
export default function TablePicture(props: PictureProps) {
  const { columns } = props.result.table;
  // What the browser keeps of a view that is nobody's to change here is of what stands in that, and of nothing else.
  const name = `${props.tile.name}${props.onTable || !props.table ? '' : JSON.stringify(props.table)}`;
  // Other columns are another table: what was set of one means nothing for the other.
  return <Lines key={`${columns.map((c) => c.name).join(' ')} ${name}`} name={name} {...props} />;
}

function Lines(props: PictureProps & { name: string }) {
  const { tile, name, result, selection, onSelect, weekStarts, table, onTable, lines, onLines } = props;
  const { columns, values } = result.table;
  const restAt = columns.findIndex((c) => c.role === 'rest');
  const groups = columns.filter((c) => c.role === 'group').length;
  const isRest = useCallback((row: number) => restAt >= 0 && values[restAt]?.[row] === true, [restAt, values]);
  const without = useMemo(
    () =>
      new Set(
        Object.entries(tile.cells?.written ?? {}).flatMap(([name, text]) =>
          namesIn(text).filter((other) => other !== name),
        ),
      ),
    [tile.cells],
  );
  const write = useCallback(
    (value: Value, column: ColumnInfo, row: number, at: number) =>
      at === 0 && isRest(row) ? allOthers : bareNumber(value, column),
    [isRest],
  );
  const tokens = useTokens();
  const cells = useMemo(
    () => columns.map((c, i) => cellsOf(tile, c, values[i] ?? [], tokens)),
    [columns, values, tile, tokens],
  );
  const courses = (result.courses ?? noCourses) as Course[];
  const member = (row: number): Member => Array.from({ length: groups }, (_, g) => (values[g]?.[row] ?? null) as Value);
  const every = Array.from({ length: values[0]?.length ?? 0 }, (_, row) => row);
  const pick = (row: number) =>
    onSelect(
      isRest(row)
        ? toggleRest(selection, every.filter((r) => !isRest(r)).map(member), tile.pick)
        : toggle(selection, member(row), tile.pick),
    );
  const { totals } = result;
  const setting = useMemo(() => settingOf(table), [table]);
  const kept = onTable && { setting, onSetting: (next?: Setting) => onTable(next && tableOf(next)) };

  return (
    <ResultTable
      title={tile.title}
      name={name}
      published={setting}
      kept={kept}
      visit={onLines && { lines, onLines }}
      columns={columns}
      values={values}
      weekStarts={weekStarts}
      hasTools={tile.hasTools}
      without={without}
      write={write}
      cell={(column, at, row, written) => (
        <>
          {arrowOf(tile.options?.[`cells.${column.name}`], values[at]?.[row])}
          <Cell
            tile={tile}
            columns={columns}
            column={column}
            isWhole={!isRest(row)}
            cellAt={(at) => (values[at]?.[row] ?? null) as Value}
          >
            {written}
          </Cell>
          {cells[at]?.words?.(values[at]?.[row]) && (
            <span className="hidden-visually">, {cells[at]?.words?.(values[at]?.[row])}</span>
          )}
        </>
      )}
      cellStyle={(at, row) => cells[at]?.style(values[at]?.[row] ?? null)}
      after={courses.map((c) => ({
        key: courseName(c),
        heading: courseTitle(c),
        headClassName: classes.courseHead,
        className: classes.courseCell,
        cell: (row) => (c.isCut ? '' : <SmallCourse course={c} values={c.lines[row] ?? []} />),
      }))}
      pick={
        tile.pick === 'none'
          ? undefined
          : {
              toggle: pick,
              isPicked: (row) => (isRest(row) ? isRestPicked(selection) : isPicked(selection, member(row))),
              hasPick: hasPick(selection),
            }
      }
      totalOf={totals ? (at) => totals[at - groups - (restAt >= 0 ? 1 : 0)] as Value : undefined}
      page={Number(tile.options?.page ?? 0)}
      foot={
        <>
          <CellLegend columns={columns} looks={cells} />
          {courses.some((c) => c.isCut) && (
            <p className={results.foot}>
              Too many lines and periods for small pictures: filter, or take a coarser grain.
            </p>
          )}
        </>
      }
    />
  );
}

const noCourses: Course[] = [];
