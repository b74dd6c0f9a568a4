import type { DashboardPage, Schemas, TileResult, ViewEdit } from '../../api/client';
import type { Found } from '../members';
import type { Settings } from '../parameters';
import type { Selections } from '../selections';
import type { Address } from './address';

/** Under what tiles are asked for. */
export interface Question {
  tiles: string[];
  selections: Selections;
  set: Settings;
  /** True to pass by what the service keeps. */
  isAnew?: boolean;
}

/** What a page asks the service for. A refusal is thrown. */
export interface Service {
  results: (question: Question, signal: AbortSignal) => AsyncIterable<TileResult>;
  /** The brush cells of some followers of a driving tile. */
  cells: (driver: string, question: Question, signal: AbortSignal) => AsyncIterable<Schemas['BrushLine']>;
  /** What the dashboard opens with; with selections, which of them this viewer may see. */
  opening: (selections: Selections | undefined, set: Settings) => Promise<Schemas['OpeningAnswer']>;
  /** Members of a control that contain a piece of text. */
  members: (tile: string, piece: string, question: Omit<Question, 'tiles'>, signal: AbortSignal) => Promise<Found>;
  /** The file that a tile shows, as an address that holds it. */
  file: (tile: string, signal: AbortSignal) => Promise<string>;
  /**
   * Changes the viewer's arrangement. The page comes back drawn as the parameters have it that an address carries so.
   * @param request What the change is called: sent again under the same name, it is made once.
   */
  edit: (edit: ViewEdit, present: string | null, request: string) => Promise<DashboardPage>;
  step: (way: 'undo' | 'redo', present: string | null, request: string) => Promise<DashboardPage>;
  /** Goes to the arrangement as it was after a step; 0 for before the first. */
  goTo: (step: number, present: string | null, request: string) => Promise<DashboardPage>;
}

/** Where a page stands: in a window with an address. */
export interface Host {
  /** Writes the address; in place of the present one, or as a new step of the visit. */
  go: (address: Address, isReplacing: boolean) => void;
  /** The page as some parameters have it drawn. */
  draw: (present: string | null) => Promise<DashboardPage>;
  /** Takes up the page as an edit left it. */
  take: (page: DashboardPage, present: string | null) => void;
  /** Fetches the page anew, since an edit was refused. */
  refetch: () => void;
  /** True while somebody sees it. */
  isSeen: () => boolean;
}
