import type { Schemas } from '../../../api/client';
import { distinct, leftOut } from '../../opening';
import { known, ofService, readSelections, type Selections } from '../../selections';
import type { PageState } from '../state';
import { type Effect, isOther, type Tools } from './effect';

/** Finds out what a page opens with, and what of a link this viewer may see. */
export function opening({ service, dispatch }: Tools): Effect {
  let asked: string | undefined;
  let checked: number | undefined;
  let isStopped = false;

  async function open(now: PageState, key: string) {
    try {
      const answer = await service.opening(undefined, now.set);
      if (asked !== key) return;
      dispatch({ type: 'opened', opening: { selections: ofService(answer.selections), names: answer.names } });
    } catch (error) {
      if (asked === key) dispatch({ type: 'not opened', problem: (error as Error).message });
    }
  }

  async function check(now: PageState) {
    const [pick, pin] = [now.link.pick, now.link.pin].map((text) =>
      text === null ? undefined : known(readSelections(text), now.published),
    );
    try {
      const [a, b] = await Promise.all(
        [pick, pin].map((r) => (r ? service.opening(r.selections, now.set) : undefined)),
      );
      if (isStopped) return;
      const missing = (pick?.dropped ?? 0) + (pin?.dropped ?? 0);
      const gone = `${missing === 1 ? 'One selection' : `${missing} selections`} of this link ${missing === 1 ? 'was' : 'were'} left out: the tile is not here or not yours.`;
      dispatch({
        type: 'link checked',
        checked: {
          pick: a && withLevels(a, pick?.selections),
          pin: b && withLevels(b, pin?.selections),
          names: [a?.names, b?.names],
          dropped: distinct([
            ...(missing > 0 ? [gone] : []),
            ...leftOut([...(a?.dropped ?? []), ...(b?.dropped ?? [])]),
          ]),
        },
      });
    } catch {
      // What the viewer may not see brings no rows in any case, so the page goes on with the link as it is.
      if (!isStopped) dispatch({ type: 'link checked' });
    }
  }

  return {
    hear(now, action, before) {
      if (action?.type === 'retry opening') asked = undefined;
      if (action?.type !== 'retry opening' && !isOther(now, before, 'published', 'own', 'set')) return;
      const { published, own, link } = now;
      if (published.hasOpening && !own) {
        const key = JSON.stringify([published.version, now.set]);
        if (key !== asked) {
          asked = key;
          void open(now, key);
        }
      }
      if ((link.pick !== null || link.pin !== null) && checked !== published.version) {
        checked = published.version;
        void check(now);
      }
    },
    stop() {
      asked = undefined;
      isStopped = true;
    },
  };
}

/** Selections as the service lets them stand, with what only the page knows: what was picked at the levels above. */
const withLevels = (answer: Schemas['OpeningAnswer'], of: Selections | undefined): Selections =>
  Object.fromEntries(
    Object.entries(ofService(answer.selections)).map(([name, s]) => {
      const kept = of?.[name]?.kept;
      return [name, kept ? { ...s, kept } : s];
    }),
  );
