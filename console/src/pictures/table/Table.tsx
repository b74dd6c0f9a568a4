import { Button } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { type KeyboardEvent, useLayoutEffect, useMemo, useRef, useState } from 'react';
import type { Value } from '../../api/client';
import { useTokens } from '../../look/look';
import { allOthers, bareNumber, formatOf, label } from '../../model/labels';
import { hasPick, isPicked, isRestPicked, type Member, toggle, toggleRest } from '../../model/selections';
import { SortHeading } from '../../results/SortHeading';
import classes from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';
import { cellsOf } from '../parts/cells';

const page = 200;
/** How many pixels lower a row is where that lets all of them be seen. */
const saved = 4;

/** Rows and columns; a heading sorts, a row can be picked. */
export default function TablePicture({ tile, result, selection, onSelect }: PictureProps) {
  const { columns, values } = result.table;
  const [shown, setShown] = useState(page);
  const [sort, setSort] = useState<{ column: number; down: boolean }>();
  const restAt = columns.findIndex((c) => c.role === 'rest');
  const groups = columns.filter((c) => c.role === 'group').length;
  const visible = columns.map((c, i) => ({ column: c, at: i })).filter((x) => x.column.role !== 'rest');
  const rows = values[0]?.length ?? 0;
  const order = useMemo(() => {
    const all = Array.from({ length: rows }, (_, r) => r);
    if (!sort) return all;
    const column = columns[sort.column];
    // Codes and keys are read by their names, and so they are sorted.
    const by = (values[sort.column] ?? []).map((v) => (v !== null && column?.names ? label(v, column) : v));
    return all.sort((a, b) => compare(by[a] ?? null, by[b] ?? null, sort.down));
  }, [rows, columns, values, sort]);
  const { ref, height } = useElementSize();
  const wrap = useRef<HTMLDivElement>(null);
  const [fit, setFit] = useState<{ dense: boolean; height?: number }>({ dense: false });
  // biome-ignore lint/correctness/useExhaustiveDependencies: what the rows take depends on these
  useLayoutEffect(() => {
    const table = wrap.current?.querySelector('table');
    if (!table || height === 0 || !result.totals) return setFit({ dense: false });
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
  }, [height, rows, shown, visible.length, result.totals === null]);

  const tokens = useTokens();
  const cells = useMemo(
    () => columns.map((c, i) => cellsOf(tile.options?.[`cells.${c.name}`], values[i] ?? [], tokens)),
    [columns, values, tile.options, tokens],
  );

  const member = (row: number): Member => Array.from({ length: groups }, (_, g) => (values[g]?.[row] ?? null) as Value);
  const isRest = (row: number) => restAt >= 0 && values[restAt]?.[row] === true;
  const pickable = tile.pick !== 'none';
  const shownMembers = () => order.filter((r) => !isRest(r)).map(member);
  const pick = (row: number) =>
    onSelect(
      isRest(row) ? toggleRest(selection, shownMembers(), tile.pick) : toggle(selection, member(row), tile.pick),
    );

  function byKey(event: KeyboardEvent<HTMLTableRowElement>, row: number) {
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      pick(row);
    }
    const to =
      event.key === 'ArrowDown'
        ? event.currentTarget.nextElementSibling
        : event.key === 'ArrowUp'
          ? event.currentTarget.previousElementSibling
          : null;
    if (to instanceof HTMLElement) {
      event.preventDefault();
      to.focus();
    }
  }

  return (
    <div ref={ref} className={classes.tableRoom}>
      <div
        ref={wrap}
        className={classes.tableWrap}
        style={fit.height === undefined ? undefined : { maxHeight: fit.height }}
        tabIndex={pickable ? undefined : 0}
      >
        <table
          className={classes.table}
          aria-label={tile.title}
          role={pickable ? 'grid' : undefined}
          data-dense={fit.dense}
        >
          <thead>
            <tr>
              {visible.map(({ column, at }) => (
                <SortHeading
                  key={column.name}
                  isFigure={column.role === 'figure'}
                  order={sort?.column === at ? (sort.down ? 'descending' : 'ascending') : undefined}
                  onSort={() =>
                    setSort(
                      sort?.column === at
                        ? { column: at, down: !sort.down }
                        : { column: at, down: column.role === 'figure' },
                    )
                  }
                >
                  {column.title}
                  {column.role === 'figure' && formatOf(column).unit && `, ${formatOf(column).unit}`}
                </SortHeading>
              ))}
            </tr>
          </thead>
          <tbody>
            {order.slice(0, shown).map((row, i) => {
              const picked = isRest(row) ? isRestPicked(selection) : isPicked(selection, member(row));
              return (
                <tr
                  key={row}
                  data-pickable={pickable}
                  aria-selected={pickable ? picked : undefined}
                  data-faint={hasPick(selection) && !picked}
                  tabIndex={pickable ? (i === 0 ? 0 : -1) : undefined}
                  onClick={pickable ? () => pick(row) : undefined}
                  onKeyDown={pickable ? (e) => byKey(e, row) : undefined}
                >
                  {visible.map(({ column, at }) => (
                    <td
                      key={column.name}
                      data-figure={column.role === 'figure'}
                      style={cells[at]?.(values[at]?.[row] ?? null)}
                    >
                      {at === 0 && isRest(row) ? allOthers : bareNumber(values[at]?.[row] as Value, column)}
                    </td>
                  ))}
                </tr>
              );
            })}
          </tbody>
          {result.totals && (
            <tfoot>
              <tr>
                {visible.map(({ column, at }) => (
                  <td key={column.name} data-figure={column.role === 'figure'}>
                    {column.role === 'figure'
                      ? bareNumber(result.totals?.[at - groups] as Value, column)
                      : at === 0
                        ? fit.height === undefined
                          ? 'Total'
                          : `Total of ${rows.toLocaleString('en-US')}`
                        : ''}
                  </td>
                ))}
              </tr>
            </tfoot>
          )}
        </table>
        {rows > shown && (
          <Button size="compact-xs" variant="subtle" onClick={() => setShown(shown + page)}>
            Show {Math.min(page, rows - shown)} more of {rows.toLocaleString('en-US')} (
            {label(rows - shown, { role: 'figure', kind: 'integer' })} left)
          </Button>
        )}
      </div>
    </div>
  );
}

function compare(a: Value, b: Value, down: boolean): number {
  if (a === b) return 0;
  if (a === null) return 1;
  if (b === null) return -1;
  const order = a < b ? -1 : 1;
  return down ? -order : order;
}
