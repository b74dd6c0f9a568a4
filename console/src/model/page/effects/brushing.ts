import { wiringOf } from '../../wiring';
import { followersOf } from '../cells';
import type { FollowerCells } from '../state';
import type { Effect, Tools } from './effect';

/** Adding cells up comes apart from the shell, with the first cells. */
const adding = () => import('../../brush');

/** Brings what is needed to answer picks on a tile without asking, once the viewer comes near it. */
export function brushing({ service, state, dispatch }: Tools): Effect {
  const running = new Map<string, { under: string; control: AbortController }>();

  async function approach(name: string) {
    const now = state();
    const driver = wiringOf(now.page).named.get(name);
    if (!driver || driver.pick === 'none' || now.page.appliesOnButton) return;
    const under = followersOf(now, driver);
    const known = now.cells[name]?.followers;
    const wanted = [...under].filter(([follower, u]) => known?.[follower]?.under !== u).map(([follower]) => follower);
    const all = JSON.stringify([...under]);
    const before = running.get(name);
    if (wanted.length === 0 || before?.under === all) return;
    before?.control.abort();
    const control = new AbortController();
    running.set(name, { under: all, control });
    try {
      const question = { tiles: wanted, selections: now.applied, set: now.set };
      const loaded = adding();
      for await (const line of service.cells(name, question, control.signal)) {
        const brush = await loaded;
        const prepared = line.cube ? brush.prepare(line.cube) : undefined;
        const cells: FollowerCells = {
          under: under.get(line.tile) ?? '',
          count: prepared?.driver.length ?? 0,
          reason: line.reason ?? undefined,
          fold:
            prepared &&
            ((picked, own) => {
              const folded = brush.fold(prepared, picked, own);
              return folded && { ...folded, readAt: prepared.cube.readAt };
            }),
        };
        if (control.signal.aborted) return;
        dispatch({ type: 'cells', driver: name, followers: { [line.tile]: cells }, isWhole: false });
      }
      dispatch({ type: 'cells', driver: name, followers: {}, isWhole: true });
    } catch (error) {
      // Without cells the service answers each pick, as before; the next approach tries again.
      if (!control.signal.aborted) console.warn(`No brush cells of ${name}:`, error);
    } finally {
      if (running.get(name)?.control === control) running.delete(name);
    }
  }

  function stop() {
    for (const { control } of running.values()) control.abort();
    running.clear();
  }

  return {
    hear(_, action) {
      if (action?.type === 'approach') void approach(action.tile);
      if (action?.type === 'forget cells') stop();
    },
    stop,
  };
}
