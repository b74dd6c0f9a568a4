import type { Schemas, TileInfo } from '../api/client';
import type { House } from '../look/house';
import type { Selections } from '../model/selections';
import type { PictureProps } from '../pictures/PictureProps';

/** A tile on paper: its figures, or what is picked on it where it only filters. */
export interface PaperTile {
  tile: TileInfo;
  result: PictureProps['result'] | null;
  picked: string | null;
  selection: Selections[string] | null;
}

/** What the service puts into the page. */
export interface PaperData {
  about: Schemas['AboutExport'];
  madeAt: string;
  readAt: string | null;
  weekStarts: string;
  tabs: {
    name: string;
    title: string;
    /** True where what is made for another member begins. */
    beginsPart: boolean;
    sections: { name: string; title: string }[];
    tiles: PaperTile[];
  }[];
  /** short, usual or long; null for usual. */
  detail: string | null;
  meanings: Schemas['MeasureMeaning'][];
  /** The colours of the workspace; null for the usual ones. */
  house: House | null;
  /** Files of tiles, as addresses that hold them. */
  files: Record<string, string>;
  layout: { mode: 'page' | 'picture' | 'print' | 'one' | 'tiles'; width: number; height: number | null };
}

/** True for a column of figures. */
export const isFigure = (role: string): boolean => role === 'figure' || role === 'tip';

/** The place of a column among those of figures, in whose order totals come: what tells the rest of a top N stands between. */
export const placeOfFigure = (columns: readonly { role: string }[], at: number): number =>
  columns.slice(0, at).filter((c) => isFigure(c.role)).length;

/** Items in blocks of so many at most, each about as long as the others. */
export function blocksOf<T>(items: readonly T[], most: number): T[][] {
  const count = Math.ceil(items.length / Math.max(1, most));
  const each = Math.ceil(items.length / Math.max(1, count));
  return Array.from({ length: count }, (_, i) => items.slice(i * each, (i + 1) * each)).filter((b) => b.length > 0);
}

/** Tiles that stand beside one another: no page breaks through them. */
export interface Band {
  from: number;
  tiles: PaperTile[];
}

/** The columns of the grid. */
const columns = 12;

/** Tiles of a band from which some were taken out: columns in which nothing stands any more are the room of those that stay. */
export function spread(band: Band): Band {
  const isTaken = Array.from({ length: columns }, (_, c) =>
    band.tiles.some(({ tile: { place } }) => place.column <= c && c < place.column + place.width),
  );
  const taken = isTaken.filter(Boolean).length;
  /** Where a line between columns comes to stand: so many taken ones are before it. */
  const moved = (line: number) => Math.round((isTaken.slice(0, line).filter(Boolean).length * columns) / taken);
  return {
    ...band,
    tiles: band.tiles.map((one) => {
      const { place } = one.tile;
      const column = moved(place.column);
      return {
        ...one,
        tile: { ...one.tile, place: { ...place, column, width: moved(place.column + place.width) - column } },
      };
    }),
  };
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
