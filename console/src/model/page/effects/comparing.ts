import { asked, drawnAs } from '../../selections';
import { wiringOf } from '../../wiring';
import type { PageState } from '../state';
import { type Effect, isOther, type Tools } from './effect';

/** What the figures of the dashboard come from in the definitions. */
const bases = ({ page }: PageState) => wiringOf(page).tiles.map((t) => t.basis);

/** Asks for the figures under the state that was pinned as A, to stand beside those of the present one. */
export function comparing({ service, dispatch }: Tools): Effect {
  let running: AbortController | undefined;
  let last: string | undefined;

  async function ask(now: PageState, selections: NonNullable<PageState['pinned']>) {
    const control = new AbortController();
    running = control;
    const tiles = now.shown.filter((t) => t.dataset && !t.waits);
    try {
      const question = { tiles: tiles.map((t) => t.name), selections, set: now.set };
      for await (const result of service.results(question, control.signal)) {
        if (control.signal.aborted) return;
        const tile = tiles.find((t) => t.name === result.tile);
        dispatch({ type: 'compared', states: { [result.tile]: { result, of: tile && drawnAs(tile) } } });
      }
    } catch (error) {
      if (control.signal.aborted) return;
      const failure = { detail: (error as Error).message, code: 'no-answer' };
      const states = Object.fromEntries(tiles.map((t) => [t.name, { failure }]));
      dispatch({ type: 'compared', states, isNew: true });
    }
  }

  return {
    hear(now, _, before) {
      if (!isOther(now, before, 'pinned', 'shown', 'set', 'published', 'isReady')) return;
      const { pinned } = now;
      const key =
        pinned && now.isReady
          ? JSON.stringify([bases(now), now.set, asked(pinned), now.shown.map((t) => [t.name, drawnAs(t)])])
          : undefined;
      if (key === last) return;
      last = key;
      running?.abort();
      dispatch({ type: 'compared', states: {}, isNew: true });
      if (pinned && key) void ask(now, pinned);
    },
    stop: () => running?.abort(),
  };
}
