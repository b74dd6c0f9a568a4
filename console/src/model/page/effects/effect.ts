import type { Host, Service } from '../service';
import type { Action, PageState } from '../state';

/** The questions of a page for the figures of its tiles, one at a time; the page need not stand yet. */
export interface Questions {
  /**
   * Asks for the figures of tiles, and for those that an aborted question still owes. A newer question cancels the older one, down to
   * the database.
   * @returns Settled once the first answer is there, or none will come.
   */
  ask: (names: string[], isAnew?: boolean) => Promise<unknown>;
  /** True if a question is under way. */
  isAtIt: () => boolean;
  stop: () => void;
}

/** What effects are made with. */
export interface Tools {
  service: Service;
  questions: Questions;
  host: Host;
  state: () => PageState;
  dispatch: (action: Action) => void;
}

/** Something that is done because of what happens on a page: asking, waiting, telling the window. */
export interface Effect {
  /**
   * Hears of everything that happens.
   * @param action What happened; undefined when the page is called up.
   * @param before The state before it; undefined when the page is called up.
   */
  hear: (now: PageState, action?: Action, before?: PageState) => void;
  /** Lets go of all that is under way. */
  stop: () => void;
}

/** True if one of these parts of the state is another than before. */
export const isOther = (now: PageState, before: PageState | undefined, ...parts: (keyof PageState)[]): boolean =>
  before === undefined || parts.some((p) => now[p] !== before[p]);
