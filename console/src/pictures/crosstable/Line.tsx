import { ChevronDown, ChevronRight } from 'lucide-react';
import { memo } from 'react';
import { bareNumber, label } from '../../model/labels';
import type { PictureProps } from '../PictureProps';
import { arrowOf, type cellsOf } from '../parts/cells';
import type { Cross, CrossRow } from './cross';
import classes from './crosstable.module.css';
import { type FigureColumn, type Heading, type Widths, widthOf } from './grid';
import type { Actions } from './useActions';

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
export const gap = (isThere: boolean) => (isThere ? <td aria-hidden /> : null);

/** A line: its name, and its cells as far as they are in sight. */
export const Line = memo(function Line(props: LineProps) {
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
