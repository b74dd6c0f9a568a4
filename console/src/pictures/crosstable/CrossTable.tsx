import { useMemo, useRef, useState } from 'react';
import { useTokens } from '../../look/look';
import { type ColumnSort, linesOf, visitWith } from '../../model/lines';
import tiles from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';
import { CellLegend } from '../parts/CellLegend';
import { cellsOf } from '../parts/cells';
import { type Cross, type CrossSort, crossOf, keptSort, leaves, rowKey, seen, sortKept } from './cross';
import classes from './crosstable.module.css';
import { Foot, Head } from './Ends';
import { columnsOf, useGrid, useWholeLines } from './grid';
import { Line } from './Line';
import { useActions, useChosen, useFolded } from './useActions';

/** Figures with fields down and one across. What is not in sight is not drawn, so that large ones scroll as small ones do. */
export default function CrossTable(props: PictureProps) {
  const { tile, result } = props;
  const cross = useMemo(() => crossOf(result.table, result.subtotals ?? []), [result.table, result.subtotals]);
  return cross ? <Shown key={tile.by.length} {...props} cross={cross} /> : null;
}

function Shown(props: PictureProps & { cross: Cross }) {
  const { tile, result, cross, selection, onSelect } = props;
  const t = useTokens();
  const frame = useRef<HTMLDivElement>(null);
  const room = useRef<HTMLDivElement>(null);
  const { sort, setSort } = useSort(props, cross);
  const { folded, fold } = useFolded(cross, (none) => seen(cross, undefined, none));
  const rows = useMemo(() => seen(cross, sort, folded), [cross, sort, folded]);
  const columns = useMemo(() => columnsOf(cross), [cross]);
  const drawn = useMemo(() => {
    const every = cross.rows.flatMap(leaves);
    return cross.figures.map((f, i) => {
      const values = every.flatMap((r) => cross.columns.map((c) => cross.cell(r.path, c.member)?.[i] ?? null));
      return cellsOf(tile, f, values, t);
    });
  }, [cross, tile, t]);
  const { scrollTo, headings, before, after, tracks, body, down, high, wide } = useGrid(
    room,
    cross,
    rows,
    columns,
    t.size,
  );
  const maxHeight = useWholeLines(frame, room, high, rows.length);
  const { at, actions } = useActions({ tile, selection, onSelect, cross, rows, columns, room, scrollTo, fold });
  const chosen = useChosen(cross, selection);
  const ends = { cross, headings, before, after };
  return (
    <>
      <div ref={frame} className={tiles.tableRoom}>
        <div ref={room} className={classes.room} style={{ maxHeight }}>
          <table
            className={classes.table}
            role="grid"
            aria-label={tile.title}
            aria-rowcount={rows.length + (cross.figures.length > 1 ? 3 : 2)}
            aria-colcount={columns.length + 1}
            aria-multiselectable={tile.pick === 'many'}
            style={tracks}
          >
            <Head {...ends} partial={result.partial} sort={sort} onSort={setSort} />
            <tbody role="rowgroup" style={body}>
              {down.map((index) => {
                const row = rows[index];
                return (
                  row && (
                    <Line
                      key={rowKey(row)}
                      row={row}
                      index={index}
                      tile={tile}
                      cross={cross}
                      drawn={drawn}
                      headings={headings}
                      before={before}
                      after={after}
                      high={high}
                      wide={wide}
                      indent={t.size * 1.2}
                      isFolded={folded.has(rowKey(row))}
                      reached={at.row === index ? at.column : undefined}
                      chosen={chosen}
                      actions={actions}
                    />
                  )
                );
              })}
            </tbody>
            <Foot {...ends} />
          </table>
        </div>
      </div>
      <CellLegend columns={cross.figures} looks={drawn} />
    </>
  );
}

/** What the table is sorted by. Where nobody else remembers it, it does. */
function useSort({ table, ...props }: PictureProps, cross: Cross) {
  const [own, setOwn] = useState<PictureProps['lines']>();
  const lines = props.onLines ? props.lines : own;
  const [kept] = (lines?.sorted ?? linesOf(table).sorted) as (ColumnSort | undefined)[];
  const sort = useMemo(() => sortKept(kept, cross), [kept, cross]);
  const setSort = (next?: CrossSort) =>
    (props.onLines ?? setOwn)(visitWith(lines, { sorted: next ? [keptSort(next, cross)] : [] }, linesOf(table)));
  return { sort, setSort };
}
