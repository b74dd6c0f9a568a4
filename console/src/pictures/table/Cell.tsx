import { useContext } from 'react';
import type { ColumnInfo, Value } from '../../api/client';
import { label } from '../../model/labels';
import type { PictureProps } from '../PictureProps';
import { addressOf, filled } from '../parts/cells';
import { Home } from '../surroundings';

/** What stands in a cell: the figure or name, a text of several columns, or a way to somewhere. */
export function Cell({
  tile,
  columns,
  column,
  isWhole,
  cellAt,
  children,
}: {
  tile: PictureProps['tile'];
  columns: ColumnInfo[];
  column: ColumnInfo;
  /** False for the line of the rest, which is of no one member. */
  isWhole: boolean;
  cellAt: (at: number) => Value;
  children: string;
}) {
  const home = useContext(Home);
  const { written, links } = tile.cells ?? {};
  const pattern = isWhole ? written?.[column.name] : undefined;
  const text = pattern ? filled(pattern, columns, (at) => label(cellAt(at), columns[at] as ColumnInfo)) : children;
  const link = isWhole ? links?.[column.name] : undefined;
  const way = link && addressOf(link, columns, cellAt);
  if (!way || (home !== null && !URL.canParse(way, home))) return text;
  return (
    <a
      href={home === null ? way : new URL(way, home).href}
      target="_blank"
      rel="noopener noreferrer"
      onClick={(e) => e.stopPropagation()}
    >
      {text}
    </a>
  );
}
