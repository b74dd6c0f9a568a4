import { Refused, type Schemas } from '../api/client';
import { together } from './together';
import { Typing } from './typing';

export type Draft = Schemas['DraftAnswer'];

/** What is worked on as a draft. */
export type DraftKind =
  | 'dashboards'
  | 'datasets'
  | 'sources'
  | 'catalogues'
  | 'openings'
  | 'reports'
  | 'access'
  | 'workspace';

/** How long nobody types before the text is saved, in milliseconds: a third of what the last answer took, within limits. */
const rests = { least: 40, most: 300 };

/** What could not be stored, and what can be done about it. */
export interface Problem {
  message: string;
  /** Another window changed the draft: what is there has to be loaded. */
  isBehind: boolean;
  /** A change by hand that can't be made; there is nothing to try again. */
  isByHand: boolean;
}

export type SaveState = 'saved' | 'waiting' | 'saving';

const isBehind = (error: unknown) => error instanceof Refused && error.code === 'draft-moved';

/** Where a draft is kept. */
export interface Kept {
  read: () => Promise<Draft>;
  /** @throws Refused where the draft is at another step than it is said to be. */
  save: (body: Schemas['DraftText']) => Promise<Draft>;
}

/** Who is told of a draft. */
export interface Told {
  /** Another step is the draft's newest. */
  draft: (next: Draft) => void;
  state: (state: SaveState) => void;
  problem: (problem: Problem | undefined) => void;
  /** What is typed is another text now, without having been typed. */
  write: (text: string) => void;
}

/**
 * The draft of a window, and all that changes it: what is typed, what is done by hand, steps back and forth. One after the other, and of what
 * is typed the newest. What another window, or the page beside, changes meanwhile is put together with what is typed where the two are at
 * different lines; else it is told, and nothing that was typed is lost without a word.
 */
export class DraftInHand {
  /** What is typed: the draft's own where all is saved. */
  text: string;
  private readonly typing = new Typing();
  private saving?: Promise<void>;
  private timer?: ReturnType<typeof setTimeout>;
  /** How long it took to store what was typed last, in milliseconds. */
  private took = 0;
  private changing: Promise<unknown> = Promise.resolve();

  constructor(
    private draft: Draft,
    private readonly kept: Kept,
    private readonly told: Told,
  ) {
    this.text = draft.text;
  }

  readonly isSaved = () => this.text === this.draft.text;

  /** Stores what was typed; done when it is, or when it can't be. */
  readonly save = (): Promise<void> => {
    clearTimeout(this.timer);
    if (!this.saving && !this.isSaved())
      this.saving = this.saveAll().finally(() => {
        this.saving = undefined;
      });
    return this.saving ?? Promise.resolve();
  };

  /** What is typed; it is saved when nobody has typed for a moment. */
  readonly change = (text: string, isBack = false) => {
    this.text = text;
    clearTimeout(this.timer);
    this.typing.typed(performance.now(), isBack);
    if (this.isSaved()) {
      if (!this.saving) this.told.state('saved');
      return;
    }
    this.told.state('waiting');
    this.timer = setTimeout(() => void this.save(), Math.min(rests.most, Math.max(rests.least, this.took / 3)));
  };

  /** Another step, as the service has it. What was typed meanwhile stays, and is told of when it can't be saved. */
  readonly show = (next: Draft, typed = this.draft.text) => {
    if (this.follow(next, typed)) {
      this.change(this.text);
      return;
    }
    const { draft } = this;
    this.take(next);
    this.draft = draft;
  };

  /** Changes the draft by hand, one change after the other, each after what was typed; true once it is stored. */
  readonly byHand = (send: (now: Draft) => Promise<Draft>): Promise<boolean> => {
    const done = this.changing.then(async () => {
      await this.save();
      // What could not be saved is told already.
      if (!this.isSaved()) return false;
      const typed = this.text;
      try {
        this.show(await send(this.draft), typed);
        return true;
      } catch (error) {
        this.tell(error);
        return false;
      }
    });
    this.changing = done;
    return done;
  };

  /** Loads what the service has, in place of what was typed here. */
  readonly reload = async () => {
    try {
      this.show(await this.kept.read(), this.text);
    } catch (error) {
      this.tell(error);
    }
  };

  /** Nobody types here any more. */
  readonly leave = () => clearTimeout(this.timer);

  private tell(error: unknown) {
    this.told.problem({
      message: error instanceof Error ? error.message : String(error),
      isBehind: isBehind(error),
      isByHand: error instanceof Refused && error.code === 'bad-step',
    });
  }

  private take(next: Draft) {
    this.draft = next;
    this.told.problem(undefined);
    this.told.draft(next);
  }

  private async saveAll() {
    this.told.state('saving');
    try {
      while (!this.isSaved()) await this.saveOnce();
      this.told.state('saved');
    } catch (error) {
      this.tell(error);
      this.told.state('waiting');
    }
  }

  private async saveOnce() {
    const { text, draft } = this;
    const from = performance.now();
    const body = { text, after: draft.step, joins: this.typing.sent(draft.step) };
    let next: Draft;
    try {
      next = await this.kept.save(body);
    } catch (error) {
      if (!isBehind(error) || !this.follow(await this.kept.read())) throw error;
      return;
    }
    this.took = performance.now() - from;
    this.typing.stored(next.step);
    // What came meanwhile is newer.
    if (this.draft === draft || this.draft.step < next.step) this.take(next);
  }

  /** Goes on from another step with what is typed here. False if both are at the same lines: then all stays as it was. */
  private follow(next: Draft, typed = this.draft.text): boolean {
    const text = together(typed, next.text, this.text);
    if (text === undefined) return false;
    this.take(next);
    this.text = text;
    this.told.write(text);
    return true;
  }
}
