import type { TileInfo } from '../../api/client';
import type { PageState } from './state';

/** The series of a tile that are hidden by the legend: for the visit, else as the view has it. */
export const hiddenIn = (state: PageState, tile: TileInfo): readonly string[] =>
  state.hidden[tile.name] ?? tile.without;

/** How a tile is drawn otherwise than it is defined: for this visit, in the view, or not at all. */
export const drawnOtherwise = (state: PageState, tile: TileInfo): string | null =>
  isHiddenForVisit(state, tile) ? 'visit' : tile.drawn;

/** True if the viewer hides other series in this visit than the view does. */
export function isHiddenForVisit({ hidden }: PageState, { name, without }: TileInfo): boolean {
  const now = hidden[name];
  return now !== undefined && (now.length !== without.length || without.some((n) => !now.includes(n)));
}
