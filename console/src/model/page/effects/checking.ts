import { sameTable } from '../../tileState';
import { type Effect, isOther, type Tools } from './effect';

/** Long enough for a hand to rest. */
const pause = 400;

/** The sampled check: once the hand rests, what the page worked out is asked of the service and compared. */
export function checking({ service, state, dispatch }: Tools): Effect {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let running: AbortController | undefined;

  async function compare(tiles: string[]) {
    const control = new AbortController();
    running = control;
    const now = state();
    const differences: string[] = [];
    let count = 0;
    try {
      const question = { tiles, selections: now.applied, set: now.set };
      for await (const result of service.results(question, control.signal)) {
        if (control.signal.aborted) return;
        count++;
        const mine = state().tiles[result.tile]?.result;
        if (mine && !sameTable(mine, result)) differences.push(result.tile);
      }
      dispatch({ type: 'was checked', tiles, count, differences });
    } catch (error) {
      if (!control.signal.aborted) dispatch({ type: 'not checked', problem: (error as Error).message });
    }
  }

  function stop() {
    clearTimeout(timer);
    running?.abort();
  }

  return {
    hear(now, _, before) {
      const isSame = before !== undefined && now.check.isOn === before.check.isOn;
      if (isSame && (!now.check.isOn || !isOther(now, before, 'shown', 'tiles', 'applied', 'set'))) return;
      stop();
      const folded = now.shown.flatMap((t) => (now.tiles[t.name]?.isFolded ? [t.name] : []));
      if (now.check.isOn && folded.length > 0) timer = setTimeout(() => void compare(folded), pause);
    },
    stop,
  };
}
