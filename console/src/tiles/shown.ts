import type { TileInfo } from '../api/client';
import type { Selection } from '../model/selections';
import type { TileState } from '../model/tileState';

/** A tile, and what its parts are shown with. */
export interface TileProps {
  tile: TileInfo;
  state: TileState;
  selection?: Selection;
}

/** Why a tile shows no figures. */
export interface Problem {
  detail: string;
  remedy?: string | null;
  code: string;
}

/** A tile of which nothing is known yet. */
export const unknown: TileState = {};

/** Why a tile shows no figures; undefined where it does. */
export const problemOf = ({ failure, result }: TileState): Problem | undefined =>
  failure ?? (result?.state === 'failed' ? (result.problem ?? undefined) : undefined);

/** What filters a tile, in words, the first members of each. */
export const filterText = (result: TileState['result']): string =>
  (result?.filters?.applied ?? [])
    .map((f) => `${f.fields}: ${f.members.slice(0, 3).join(', ')}${f.members.length > 3 ? ' …' : ''}`)
    .join('; ');
