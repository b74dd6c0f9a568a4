import type { Column } from '@tanstack/react-table';
import { EllipsisVertical } from 'lucide-react';
import { lazy, type ReactNode } from 'react';
import { MenuButton } from '../look/MenuButton';
import { formatOf } from '../model/labels';
import { type Row, told } from './columnActs';
import type { ColumnFilter } from './columns';
import { Edge } from './Edge';
import classes from './results.module.css';
import type { Standing } from './standing';
import type { TableProps } from './tableProps';

// There are many headings, and few menus are ever opened.
const loadMenu = () => import('./ColumnMenu');
const ColumnMenu = lazy(loadMenu);
// One for all, so that the buttons that show it are not drawn anew with the figures.
const menuIcon = <EllipsisVertical size={12} aria-hidden />;

interface Props extends Standing {
  weekStarts: string;
  hasTools: boolean;
  /** True where the service sorts and filters, since not all rows are here. */
  isPart: boolean;
  /** True where lines are sorted by several columns, so that each tells its place among them. */
  isSortedByMany: boolean;
  data: Row[];
  actsAt: (column: Column<Row>) => [string, () => void][];
  onDraw: (edge: { id: string; width: number }) => void;
  onLeave: (id: string, width: number | undefined) => void;
}

/** The headings of a table: each sorts, has a menu, and an edge that makes its column wider. */
export function Headings(props: Props) {
  const { shown, before, after } = props;
  return (
    <thead>
      <tr>
        <Others of={before} />
        {shown.map((c) => (
          <Heading key={c.id} of={c} {...props} />
        ))}
        <Others of={after} />
      </tr>
    </thead>
  );
}

const Others = ({ of }: { of: NonNullable<TableProps['before']> }): ReactNode =>
  of.map((b) => (
    <th key={b.key} scope="col" className={b.headClassName}>
      {b.heading}
    </th>
  ));

function Heading({
  of: c,
  isFigure,
  classOf,
  styleOf,
  isSortedByMany,
  onDraw,
  onLeave,
  ...props
}: Props & { of: Column<Row> }) {
  const { column } = told(c);
  const order = c.getIsSorted();
  // Where it does not move the words away from what stands below them.
  const menu = props.hasTools && <HeadingMenu of={c} {...props} />;
  return (
    <th
      scope="col"
      data-column={c.id}
      data-figure={isFigure(column)}
      className={classOf(c.id)}
      style={styleOf(c.id)}
      aria-sort={order === 'desc' ? 'descending' : order === 'asc' ? 'ascending' : 'none'}
    >
      {isFigure(column) && menu}
      <button
        type="button"
        title="Sort; with Shift, sort by this after the others"
        onClick={c.getToggleSortingHandler()}
      >
        {column.title}
        {column.role === 'figure' && formatOf(column).unit && `, ${formatOf(column).unit}`}
        {order && (order === 'desc' ? ' ↓' : ' ↑')}
        {order && isSortedByMany && <sub>{c.getSortIndex() + 1}</sub>}
      </button>
      {!isFigure(column) && menu}
      <Edge onDraw={(width) => onDraw({ id: c.id, width })} onLeave={(width) => onLeave(c.id, width)} />
    </th>
  );
}

function HeadingMenu({
  of: c,
  weekStarts,
  isPart,
  data,
  actsAt,
}: Pick<Props, 'weekStarts' | 'isPart' | 'data' | 'actsAt'> & { of: Column<Row> }) {
  const { column, written } = told(c);
  return (
    <MenuButton label={`Column ${column.title}`} icon={menuIcon} className={classes.more} size={16} load={loadMenu}>
      <ColumnMenu
        column={column}
        weekStarts={weekStarts}
        filter={c.getFilterValue() as ColumnFilter | undefined}
        onFilter={(filter) => c.setFilterValue(filter)}
        members={() => [...new Set(data.map((r) => written(r.at)))].sort()}
        isPart={isPart}
        acts={actsAt(c)}
      />
    </MenuButton>
  );
}
