import type { ReactNode } from 'react';

/** The heading of a column by which lines can be sorted. */
export function SortHeading({
  children,
  order,
  isFigure,
  onSort,
}: {
  children: ReactNode;
  /** How the lines are sorted by this column; undefined if by another. */
  order?: 'ascending' | 'descending';
  isFigure?: boolean;
  onSort: () => void;
}) {
  return (
    <th scope="col" data-figure={isFigure} aria-sort={order ?? 'none'}>
      <button type="button" onClick={onSort}>
        {children}
        {order && (order === 'descending' ? ' ↓' : ' ↑')}
      </button>
    </th>
  );
}
