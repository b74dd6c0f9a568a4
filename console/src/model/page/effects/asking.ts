import { Refused, type TileInfo } from '../../../api/client';
import { drawnAs } from '../../selections';
import { wiringOf } from '../../wiring';
import { awaited, isWaiting, keyOf, questionOf, staleTiles } from '../figures';
import type { Service } from '../service';
import type { Action, Failure, PageState } from '../state';
import { type Effect, isOther, type Questions, type Tools } from './effect';

/** Bursts of clicks ask once. */
const pause = 150;

/** Asks a service, and tells a page what it answers. */
export function questionsTo(service: Service, state: () => PageState, dispatch: (action: Action) => void): Questions {
  let running: AbortController | undefined;

  async function ask(names: string[], isAnew: boolean, onFirst: () => void) {
    running?.abort();
    const control = new AbortController();
    running = control;
    const now = state();
    // What an aborted question still owed is asked again with this one.
    const tiles = [...new Set([...awaited(now), ...names])].flatMap((n) => wiringOf(now.page).named.get(n) ?? []);
    const keys = Object.fromEntries(tiles.map((t) => [t.name, keyOf(now, t)]));
    const drawn = Object.fromEntries(tiles.map((t) => [t.name, drawnAs(t)]));
    dispatch({ type: 'asking', keys, since: performance.now() });
    try {
      for await (const result of service.results(questionOf(now, tiles, isAnew), control.signal)) {
        if (control.signal.aborted) return; // lines of an older answer that were on their way
        dispatch({ type: 'answered', result, key: keys[result.tile], of: drawn[result.tile] });
        onFirst();
      }
    } catch (error) {
      if (!control.signal.aborted) dispatch({ type: 'unanswered', failure: failureOf(error) });
    } finally {
      if (running === control) running = undefined;
    }
  }

  return {
    ask: (names, isAnew = false) => new Promise<void>((resolve) => void ask(names, isAnew, resolve).finally(resolve)),
    isAtIt: () => running !== undefined,
    stop: () => {
      running?.abort();
      running = undefined;
    },
  };
}

/**
 * Asks for the figures of the open tab, and asks again for those that something may have changed.
 */
export function asking({ questions, state, dispatch, host }: Tools): Effect {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let rhythms: ReturnType<typeof setInterval>[] = [];

  function readAnew(isWanted: (tile: TileInfo) => boolean) {
    const now = state();
    const names = now.shown.flatMap((t) => (t.dataset && !isWaiting(now, t) && isWanted(t) ? [t.name] : []));
    dispatch({ type: 'forget cells' });
    if (names.length > 0) void questions.ask(names, true);
  }

  return {
    hear(now, action, before) {
      if (action?.type === 'retry') void questions.ask([action.tile]);
      if (action?.type === 'read anew') readAnew(action.of ?? (() => true));
      if (action?.type === 'stop') {
        questions.stop();
        dispatch({ type: 'unanswered', failure: { detail: 'You stopped this question.', code: 'stopped' } });
      }
      if (isOther(now, before, 'isReady', 'shown', 'applied', 'data', 'page')) {
        clearTimeout(timer);
        const stale = staleTiles(now);
        // What was asked before the page stood is on its way, unless the page opens otherwise.
        const isOwed = before === undefined && (stale.length > 0 || (awaited(now).length > 0 && !questions.isAtIt()));
        if (isOwed || stale.some((t) => now.tiles[t.name]?.key === undefined))
          void questions.ask(stale.map((t) => t.name));
        else if (stale.length > 0)
          timer = setTimeout(() => {
            const names = staleTiles(state()).map((t) => t.name);
            if (names.length > 0) void questions.ask(names);
          }, pause);
      }
      // Tiles that the developer wants kept current, while the page is seen and their tab is open.
      if (isOther(now, before, 'shown')) {
        rhythms.forEach(clearInterval);
        const seconds = new Set(now.shown.flatMap((t) => t.refreshSeconds ?? []));
        if (seconds.size > 0) dispatch({ type: 'in rhythm', since: Date.now() });
        rhythms = [...seconds].map((s) =>
          setInterval(() => {
            if (host.isSeen()) dispatch({ type: 'read anew', of: (t) => t.refreshSeconds === s });
          }, s * 1000),
        );
      }
    },
    stop() {
      questions.stop();
      clearTimeout(timer);
      rhythms.forEach(clearInterval);
    },
  };
}

const failureOf = (error: unknown): Failure =>
  error instanceof Refused
    ? { detail: error.message, code: error.code, remedy: error.remedy }
    : {
        detail: 'The service can’t be reached.',
        code: 'no-answer',
        remedy: 'It is asked again when you retry.',
      };
