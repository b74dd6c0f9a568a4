import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Found } from '../members';
import { addressing } from './effects/addressing';
import { arranging } from './effects/arranging';
import { asking, questionsTo } from './effects/asking';
import { brushing } from './effects/brushing';
import { checking } from './effects/checking';
import { comparing } from './effects/comparing';
import type { Effect } from './effects/effect';
import { opening } from './effects/opening';
import { staleTiles } from './figures';
import { begin, reduce, type Start } from './reduce';
import type { Host, Service } from './service';
import type { Action, PageState } from './state';

/** The owner of all that a dashboard page shows. */
export interface PageStore extends Pick<StoreApi<PageState>, 'getState' | 'getInitialState' | 'subscribe'> {
  /** The one way in which anything changes. */
  dispatch: (action: Action) => void;
  /** Finds members of a control that has more of them than it was sent. */
  find: (tile: string, piece: string, signal: AbortSignal) => Promise<Found>;
  /** The file that a tile shows, as an address that holds it. */
  file: Service['file'];
  /** Asks for the first figures before the page stands; settled once the first of them is there. */
  askAhead: () => Promise<unknown>;
  /** Begins to ask and to listen; what comes back ends it. */
  start: (host: Host) => () => void;
}

/** A page that has been fetched, as it is called up. */
export function createPage(from: Start, service: Service): PageStore {
  const store = createStore<PageState>(() => begin(from));
  const waiting: Action[] = [];
  let isAtIt = false;
  let effects: Effect[] = [];

  /** One after another: what effects bring about is heard of by all once they have heard of what came first. */
  function dispatch(action: Action) {
    waiting.push(action);
    if (isAtIt) return;
    isAtIt = true;
    try {
      for (let next = waiting.shift(); next; next = waiting.shift()) {
        const before = store.getState();
        const now = reduce(before, next);
        if (now !== before) store.setState(now, true);
        for (const effect of effects) effect.hear(now, next, before);
      }
    } finally {
      isAtIt = false;
      waiting.length = 0;
    }
  }

  const questions = questionsTo(service, store.getState, dispatch);

  function start(host: Host) {
    const tools = { service, questions, host, state: store.getState, dispatch };
    effects = [addressing, opening, asking, brushing, comparing, checking, arranging].map((effect) => effect(tools));
    for (const effect of effects) effect.hear(store.getState());
    return () => {
      for (const effect of effects) effect.stop();
      effects = [];
    };
  }

  return {
    getState: store.getState,
    getInitialState: store.getInitialState,
    subscribe: store.subscribe,
    dispatch,
    find: (tile, piece, signal) => {
      const { applied, set } = store.getState();
      return service.members(tile, piece, { selections: applied, set }, signal);
    },
    file: service.file,
    askAhead: () => {
      const names = staleTiles(store.getState()).map((t) => t.name);
      return names.length > 0 ? questions.ask(names) : Promise.resolve();
    },
    start,
  };
}
