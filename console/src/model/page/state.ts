import type { DashboardPage, TabInfo, TableColumns, TileInfo, TileResult, ViewEdit } from '../../api/client';
import type { Folded } from '../brush';
import type { Lens } from '../lens';
import type { Lines } from '../lines';
import type { Names, ToldNames } from '../names';
import type { Kept } from '../opening';
import type { Settings } from '../parameters';
import type { Selection, Selections } from '../selections';
import type { Check, TileState } from '../tileState';
import type { AxisWindow } from '../window';
import type { Address } from './address';

/** What the dashboard opens with for this viewer, as the service says. */
export interface Opening {
  selections: Selections;
  names: ToldNames;
}

/** What a link picked, held against the rights of this viewer. */
export interface CheckedLink {
  pick?: Selections;
  pin?: Selections;
  names: ToldNames[];
  /** What was left out of it: sentences without the values. */
  dropped: string[];
}

/** What is known of a follower of a driving tile. */
export interface FollowerCells {
  /** What it was worked out under: all but what is picked on the driving tile. */
  under: string;
  /** Adds the cells up under what is picked on the driving tile and on the follower itself; undefined if that can't be told from them. */
  fold?: (driver: Selection | undefined, own: Selection | undefined) => (Folded & { readAt: string }) | undefined;
  /** How many cells it has. */
  count: number;
  /** Why the service has to be asked. */
  reason?: string;
}

/** The brush cells of a driving tile. */
export interface Cells {
  followers: Record<string, FollowerCells>;
  /** True once all that can be answered in the page is. */
  isWhole: boolean;
}

/** What is to be named: a tab, an added tile, an empty page; nothing of these, a new tab. */
export interface Naming {
  tab?: string;
  tile?: string;
  /** The tab that is to be copied under the name. */
  copyOf?: string;
  isEmptyPage?: boolean;
  title: string;
}

/** A tile of a catalogue on its way to the page. */
export interface Carried {
  shared: string;
  width: number;
  height: number;
}

/** What is given to a page or happened on it; all else follows from it. */
export interface Given {
  /** The dashboard as it was fetched. */
  published: DashboardPage;
  /** What the viewer keeps for the next visit, if anything. */
  own?: Kept;
  ownProblem?: string;
  address: Address;
  /** The names that answers brought of codes and keys. */
  names: Names;
  /** What it opens with; undefined until it is known. */
  opening?: Opening;
  openingProblem?: string;
  /** The address's picks as the page was called up with them: only these are held against the viewer's rights. */
  link: { pick: string | null; pin: string | null };
  /** The answer to it; undefined until it is there. */
  checked?: CheckedLink;
  /** True once there will be no answer. */
  isLinkUnchecked: boolean;
  /** Picks while the hand still moves. */
  live?: Selections;
  /** Picks that wait to be applied. */
  draft?: Selections;
  /** Parameters that wait to be applied, as an address carries them. */
  draftSet?: string | null;
  /** Parameters whose drawing of the page is on its way; what is picked then, where it is not what fits of the present picks. */
  coming?: { set: string | null; pick?: string | null };
  /** What is known of each tile's figures. */
  tiles: Record<string, TileState>;
  /** The figures under the state that was pinned as A. */
  compared: Record<string, TileState>;
  /** The brush cells of each driving tile; the newest last. */
  cells: Record<string, Cells>;
  check: Check;
  /** What is wrong with the definitions, for those who define. */
  faults: string[];
  /** Why a change of the arrangement, or of how tiles are drawn, was not made. */
  viewProblem?: string;
  drawProblem?: string;
  /** What was let go since tiles are drawn otherwise, as a sentence. */
  letGo?: string;
  naming?: Naming;
  /** The changes of the view that are not stored yet: how many, and whether the service can't be reached; and whether any was stored. */
  saving: { waiting: number; isHeld: boolean; hasSaved: boolean };
  /** The series that the viewer hid by the legend in this visit, by tile; those left out are as the view has them. */
  hidden: Record<string, readonly string[]>;
  /** How columns of tables were just said to stand, by tile, until the view has it; null for as they are published. */
  tables: Record<string, TableColumns | null>;
  /** How lines of tables are sorted and filtered in this visit, by tile; those left out are as the view has them. */
  lines: Record<string, Partial<Lines>>;
  /** The part of its axis that each picture shows, where the viewer chose one; those left out are as they open. */
  windows: Record<string, AxisWindow | Lens>;
  /** What the hand carries from a catalogue. */
  carried?: Carried;
  /** The sections that the viewer folded or unfolded, by tab and section; those left out are as they open. */
  folds: Record<string, boolean>;
  /** The tile whose drawing is being chosen. */
  redrawn?: string;
  /** Since when tiles that are kept current are read again and again, in milliseconds. */
  rhythmSince?: number;
  isArranging: boolean;
  isWired: boolean;
  /** True while it is told what the dashboard is for. */
  isAbout: boolean;
  /** The tile of which it is shown where it comes from, and that whose rows are listed. */
  explained?: string;
  listed?: string;
  /** What is written about: a tile, or the dashboard. */
  remarked?: { tile?: string };
  /** What is taken along as a file: a tile, or the tab and all that is beside it. */
  taken?: { tile?: string };
}

/** A dashboard page: what is given, and what follows from it. */
export interface PageState extends Given {
  /** The dashboard with the names that answers brought. */
  page: DashboardPage;
  tab?: TabInfo;
  /** The tiles of the open tab, but for those that are hidden or stand in a folded section. */
  shown: TileInfo[];
  /** All that is set of parameters, as the service is asked with it. */
  set: Settings;
  /** Those of them that decide about rows and figures. */
  data: Settings;
  /** What the dashboard opens with. */
  opens: Selections;
  /** What the address says is picked. */
  written: Selections;
  /** What is picked, as the viewer has it before them. */
  selections: Selections;
  /** What is picked, as the tiles are filtered: behind the other where picks wait to be applied. */
  applied: Selections;
  /** The state that was pinned as A. */
  pinned?: Selections;
  /** False until it is known what the page begins with. */
  isReady: boolean;
  /** What was left out of what the viewer was to see, told until they go on. */
  dropped: string[];
}

/** Why there is no answer. */
export type Failure = NonNullable<TileState['failure']>;

/** All that can happen to a page. What is asked of the service is asked by whoever hears of these, not by the state. */
export type Action =
  // What comes from outside
  | { type: 'fetched'; page: DashboardPage; own?: Kept; problem?: string }
  | { type: 'address'; address: Address }
  | { type: 'news'; faults: string[] }
  // What the viewer does
  | { type: 'pick'; tile: string; selection: Selection | undefined; isLive?: boolean }
  | { type: 'set'; set: Settings }
  // Has a tile drawn otherwise for this visit; without a drawing as the view has it.
  | { type: 'draw'; tile: string; drawing?: object }
  | { type: 'redraw'; tile?: string }
  // Hides series by the legend for this visit; without names as the view has it.
  | { type: 'hide series'; tile: string; names?: readonly string[] }
  // Has the columns of a table stand otherwise in the view; null for as they are published.
  | { type: 'columns'; tile: string; table: TableColumns | null }
  // Sorts and filters the lines of a table for this visit; without any as the view has them.
  | { type: 'lines'; tile: string; lines?: Partial<Lines> }
  // Shows another part of a picture's axis; without a window as it opens.
  | { type: 'window'; tile: string; window?: AxisWindow | Lens }
  | { type: 'carry'; tile?: Carried }
  | { type: 'fold'; section: string; isFolded: boolean }
  | { type: 'apply' }
  | { type: 'discard' }
  | { type: 'clear' }
  | { type: 'pin' }
  | { type: 'go on'; with: 'A' | 'B' }
  | { type: 'open tab'; tab: string; replace?: boolean }
  | { type: 'enlarge'; tile: string | null }
  | { type: 'arrange'; isOn: boolean }
  | { type: 'wire'; isOn?: boolean }
  | { type: 'about'; isOn: boolean }
  | { type: 'explain'; tile?: string }
  | { type: 'list rows'; tile?: string }
  | { type: 'take along'; what?: { tile?: string } }
  | { type: 'remark'; what?: { tile?: string } }
  | { type: 'name tab'; naming?: Naming }
  | { type: 'check'; isOn: boolean }
  // What the viewer asks the service for
  | { type: 'approach'; tile: string }
  | { type: 'read anew'; of?: (tile: TileInfo) => boolean }
  | { type: 'retry'; tile: string }
  | { type: 'retry opening' }
  | { type: 'stop' }
  | { type: 'edit'; edit: ViewEdit }
  | { type: 'step'; way: 'undo' | 'redo' }
  | { type: 'go to step'; step: number }
  | { type: 'keep'; isAsNow: boolean }
  // What becomes of that
  | { type: 'in rhythm'; since: number }
  | { type: 'asking'; keys: Record<string, string>; since: number }
  | { type: 'answered'; result: TileResult; key?: string; of?: string }
  | { type: 'unanswered'; failure: Failure }
  | { type: 'compared'; states: Record<string, TileState>; isNew?: boolean }
  | { type: 'cells'; driver: string; followers: Record<string, FollowerCells>; isWhole: boolean }
  | { type: 'forget cells' }
  | { type: 'was checked'; tiles: string[]; count: number; differences: string[] }
  | { type: 'not checked'; problem: string }
  | { type: 'opened'; opening: Opening }
  | { type: 'not opened'; problem: string }
  | { type: 'link checked'; checked?: CheckedLink }
  | { type: 'drawn'; set: string | null; page: DashboardPage }
  | { type: 'not drawn'; set: string | null; problem: string }
  | { type: 'saving'; waiting: number; isHeld: boolean }
  | { type: 'edited'; page: DashboardPage }
  | { type: 'not edited'; problem: string }
  | { type: 'columns stored'; tile: string; table: TableColumns | null };
