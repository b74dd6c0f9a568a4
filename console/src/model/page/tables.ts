import type { TableColumns, TileInfo } from '../../api/client';
import { areAlike, type Lines, linesOf } from '../lines';
import type { PageState } from './state';

/** How the columns of a tile's table stand: as was just said, until it is stored, else as the view has it. */
export const tableIn = ({ tables }: PageState, tile: TileInfo): TableColumns | null =>
  tile.name in tables ? (tables[tile.name] ?? null) : tile.table;

/** How the lines of a tile's table are sorted and filtered: for this visit, else as the view has it. */
export const linesIn = (state: PageState, tile: TileInfo): Lines => ({
  ...linesOf(tableIn(state, tile)),
  ...state.lines[tile.name],
});

/** Where they are otherwise than in the opening view: in this visit, in the viewer's own, or nowhere. */
export function linesOtherwise(state: PageState, tile: TileInfo): 'visit' | 'view' | null {
  const ofView = linesOf(tableIn(state, tile));
  if (!areAlike(linesIn(state, tile), ofView)) return 'visit';
  return areAlike(ofView, linesOf(tile.publishedTable)) ? null : 'view';
}
