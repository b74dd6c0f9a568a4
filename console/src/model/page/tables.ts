import type { TableColumns, TileInfo } from '../../api/client';
import type { PageState } from './state';

/** How the columns of a tile's table stand: as was just said, until it is stored, else as the view has it. */
export const tableIn = ({ tables }: PageState, tile: TileInfo): TableColumns | null =>
  tile.name in tables ? (tables[tile.name] ?? null) : tile.table;
