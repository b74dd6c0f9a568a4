import { useCallback } from 'react';
import type { TileInfo } from '../api/client';
import { useDispatch } from '../dashboard/usePage';
import type { PictureProps } from '../pictures/PictureProps';

/** A way to pick on a tile; the same as long as the tile has its name. */
export function usePick(tile: TileInfo): PictureProps['onSelect'] {
  const dispatch = useDispatch();
  return useCallback(
    (selection, isLive) => dispatch({ type: 'pick', tile: tile.name, selection, isLive }),
    [dispatch, tile.name],
  );
}
