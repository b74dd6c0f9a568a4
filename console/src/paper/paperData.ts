import type { Schemas, TileInfo } from '../api/client';
import type { Selections } from '../model/selections';
import type { PictureProps } from '../pictures/PictureProps';

/** A tile on paper: its figures, or what is picked on it where it only filters. */
export interface PaperTile {
  tile: TileInfo;
  result: PictureProps['result'] | null;
  picked: string | null;
}

/** What the service puts into the page. */
export interface PaperData {
  about: Schemas['AboutExport'];
  madeAt: string;
  readAt: string | null;
  weekStarts: string;
  tabs: { title: string; sections: { name: string; title: string }[]; tiles: PaperTile[] }[];
  selections: Selections | null;
  /** Files of tiles, as addresses that hold them. */
  files: Record<string, string>;
  layout: { mode: 'page' | 'print' | 'one' | 'tiles'; width: number; height: number | null };
}

/** True for a column of figures. */
export const isFigure = (role: string): boolean => role === 'figure' || role === 'tip';

/** The place of a column among those of figures, in whose order totals come: what tells the rest of a top N stands between. */
export const placeOfFigure = (columns: readonly { role: string }[], at: number): number =>
  columns.slice(0, at).filter((c) => isFigure(c.role)).length;

/** Tiles that stand beside one another: no page breaks through them. */
export interface Band {
  from: number;
  tiles: PaperTile[];
}

/** Tiles put into bands from the top down: what overlaps in height is one band. */
export function bandsOf(tiles: PaperTile[]): Band[] {
  const bands: (Band & { to: number })[] = [];
  for (const one of [...tiles].sort(
    (a, b) => a.tile.place.row - b.tile.place.row || a.tile.place.column - b.tile.place.column,
  )) {
    const { row, height } = one.tile.place;
    const last = bands.at(-1);
    if (last && row < last.to) {
      last.tiles.push(one);
      last.to = Math.max(last.to, row + height);
    } else bands.push({ from: row, to: row + height, tiles: [one] });
  }
  return bands;
}
