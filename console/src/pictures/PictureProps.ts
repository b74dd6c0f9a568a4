import type { Schemas, TileInfo } from '../api/client';
import type { Lens } from '../model/lens';
import type { Lines } from '../model/lines';
import type { Found } from '../model/members';
import type { Selection } from '../model/selections';
import type { TileState } from '../model/tileState';
import type { AxisWindow } from '../model/window';

/** What a picture is given to draw. */
export interface PictureProps {
  tile: TileInfo;
  result: NonNullable<TileState['result']> & { table: NonNullable<NonNullable<TileState['result']>['table']> };
  weekStarts: string;
  selection?: Selection;
  /** True if the figures are those of a moment in which a hand moves elsewhere on the page. */
  isPassing?: boolean;
  onSelect: (selection: Selection | undefined, live?: boolean) => void;
  /** Finds members of a control that has more of them than it was sent. */
  onFind: (piece: string, signal: AbortSignal) => Promise<Found>;
  /** Fetches the file that the tile shows, as an address that holds it; left out where none is shown yet. */
  onFile?: (signal: AbortSignal) => Promise<string>;
  /** The series that are hidden by the legend, and what becomes of a change of them; left out where they are nobody's to keep. */
  hidden?: readonly string[];
  onHide?: (names: readonly string[]) => void;
  /** How the columns of its table stand, and what becomes of a change; without the latter they are nobody's to keep. */
  table?: Schemas['TableColumns'] | null;
  onTable?: (table: Schemas['TableColumns'] | undefined) => void;
  /** How its lines are sorted and filtered in this visit, if not as its columns say, and what becomes of a change of it. */
  lines?: Partial<Lines>;
  onLines?: (lines: Partial<Lines> | undefined) => void;
  /** The part of its axis or plane that is shown, and what becomes of a change of it; left out where it is as the picture opens. */
  window?: AxisWindow | Lens;
  onWindow?: (window: AxisWindow | Lens | undefined) => void;
  /** The least and greatest figure to draw, where two pictures are compared. */
  scale?: [number, number];
  /** The same for each figure by itself, where each has an axis of its own. */
  ends?: [number, number][];
}

/** What words are drawn with: no figures. */
export const noFigures: PictureProps['result'] = {
  tile: '',
  state: 'ready',
  table: { columns: [], values: [] },
  lines: 0,
  totals: null,
  change: null,
  filters: null,
  restricted: false,
  partial: [],
  partialPairs: [],
  readAt: '',
  milliseconds: 0,
  problem: null,
};
