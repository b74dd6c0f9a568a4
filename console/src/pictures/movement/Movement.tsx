import { useMemo } from 'react';
import { useTokens } from '../../look/look';
import { label } from '../../model/labels';
import type { PictureProps } from '../PictureProps';
import { scaleOf } from '../parts/cells';
import { movementOf } from './movement';
import classes from './movement.module.css';

/** How many subjects went from which state, down, to which, across; those that stayed are framed. */
export default function Movement({ tile, result }: PictureProps) {
  const t = useTokens();
  const moved = useMemo(() => movementOf(result.table), [result.table]);
  const style = useMemo(
    () => scaleOf(moved?.cells.flat().filter((n) => n !== null) ?? [], t, undefined).style,
    [moved, t],
  );
  if (!moved) return null;
  const { from, to, subjects } = moved;
  return (
    <section className={classes.room} tabIndex={0} aria-label={`${tile.title}: table`}>
      <table className={classes.table}>
        <thead>
          <tr>
            <th scope="col" rowSpan={2}>
              {from.title}
            </th>
            <th scope="colgroup" colSpan={moved.later.length}>
              {to.title}
            </th>
            <th scope="col" rowSpan={2}>
              All
            </th>
          </tr>
          <tr>
            {moved.later.map((s) => (
              <th key={JSON.stringify(s)} scope="col">
                {s === null ? 'not seen again' : label(s, to)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {moved.first.map((s, row) => (
            <tr key={JSON.stringify(s)}>
              <th scope="row">{label(s, from)}</th>
              {moved.later.map((later, column) => {
                const count = moved.cells[row]?.[column] ?? null;
                return (
                  <td key={JSON.stringify(later)} style={style(count)} data-stayed={s === later || undefined}>
                    {count === null ? '–' : label(count, subjects)}
                  </td>
                );
              })}
              <td className={classes.all}>{label(moved.ofFirst[row] ?? 0, subjects)}</td>
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <th scope="row">All</th>
            {moved.later.map((later, column) => (
              <td key={JSON.stringify(later)}>{label(moved.ofLater[column] ?? 0, subjects)}</td>
            ))}
            <td>
              {label(
                moved.ofLater.reduce((sum, n) => sum + n, 0),
                subjects,
              )}
            </td>
          </tr>
        </tfoot>
      </table>
    </section>
  );
}
