import { useRef } from 'react';
import tiles from '../tiles/tiles.module.css';
import { useFit, useLefts } from './fit';
import { Headings } from './Headings';
import { standingOf } from './standing';
import { FilteredFoot, Line, Pager, Totals } from './TableParts';
import type { TableProps } from './tableProps';
import { useInSight, usePages } from './useInSight';
import { useSetting } from './useSetting';
import { useTable } from './useTable';

/** Rows and columns: a heading sorts, its menu filters and moves, and where it is meant to a row can be picked. */
export function ResultTable(props: TableProps) {
  const {
    title,
    values,
    weekStarts,
    hasTools = true,
    asked,
    cell,
    cellStyle,
    pick,
    isOpen,
    totalOf,
    page = 0,
    foot,
  } = props;
  const count = values[0]?.length ?? 0;
  const kept = useSetting(props);
  const { setting } = kept;
  const { data, rows: every, shown, sorting, filters, setFilters, actsAt } = useTable(props, kept);
  const { rows, first, here, pages, setAt } = usePages(every, page);
  const room = useRef<HTMLDivElement>(null);
  const wrap = useRef<HTMLDivElement>(null);
  const { isLong, drawn, above, below, byKey } = useInSight(rows, wrap);
  const isFiltered = filters.length > 0;
  const hasTotals = totalOf !== undefined && !isLong && !isFiltered;
  const fit = useFit(room, wrap, hasTotals, `${rows.length} ${shown.length}`);
  const lefts = useLefts(wrap, setting.pinned, `${shown.map((c) => c.id)} ${JSON.stringify(setting.widths)}`);
  const standing = standingOf(shown, props, setting, lefts);
  const ofWhat = isFiltered ? 'all ' : '';
  const words =
    fit.height === undefined && !isFiltered ? 'Total' : `Total of ${ofWhat}${count.toLocaleString('en-US')}`;

  return (
    <div ref={room} className={tiles.tableRoom}>
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
          <Headings
            {...standing}
            weekStarts={weekStarts}
            hasTools={hasTools}
            isPart={asked !== undefined}
            isSortedByMany={sorting.length > 1}
            data={data}
            actsAt={(column) => actsAt(column, wrap.current)}
            onDraw={kept.setAtEdge}
            onLeave={kept.leaveEdge}
          />
          <tbody>
            {above > 0 && <tr aria-hidden style={{ height: above }} />}
            {drawn.map(({ row, place }, i) => (
              <Line
                key={row.original.at}
                {...standing}
                values={values}
                cell={cell}
                cellStyle={cellStyle}
                pick={pick}
                isOpen={isOpen}
                row={row.original.at}
                place={place}
                isLong={isLong}
                isFirst={i === 0}
                onKey={byKey}
              />
            ))}
            {below > 0 && <tr aria-hidden style={{ height: below }} />}
          </tbody>
          {totalOf && <Totals {...standing} totalOf={totalOf} words={words} />}
        </table>
      </div>
      {foot}
      {pages > 1 && (
        <Pager first={first} count={rows.length} all={every.length} here={here} pages={pages} onPage={setAt} />
      )}
      {isFiltered && !asked && <FilteredFoot count={every.length} all={count} onAll={() => setFilters([])} />}
    </div>
  );
}
