import { type DashboardPage, Refused, type ViewEdit } from '../../../api/client';
import { presentOf, withoutDrawings } from '../../parameters';
import { asked } from '../../selections';
import type { PageState } from '../state';
import type { Effect, Tools } from './effect';

/** How the page is drawn by the parameters of an address. */
const present = (state: PageState) => presentOf(state.address.set ?? state.own?.set ?? null, state.page);

/** A change that waits to be stored. */
interface Waiting {
  send: (request: string) => Promise<DashboardPage>;
  /** What it is called, the first time and each time that it is sent again. */
  request: string;
  set: string | null;
  /** Done when it is stored. */
  whenStored?: () => void;
  /** Done when it is settled: stored, or refused. */
  whenSettled?: () => void;
}

/** A name that no other request has; also where the page came without TLS, for which browsers withhold their own maker of names. */
const newRequest = () => Array.from(crypto.getRandomValues(new Uint32Array(4)), (n) => n.toString(36)).join('-');

/** How long to wait before the service is tried again that could not be reached, in milliseconds. */
const pause = 2000;

/**
 * Has the service keep each change of the viewer's arrangement before the page shows it, one after the other in the order in which they
 * were made, and draw the page as parameters have it. What can't be sent now is held and sent again.
 */
export function arranging({ service, host, dispatch, state }: Tools): Effect {
  const waiting: Waiting[] = [];
  let isAtIt = false;
  let isStopped = false;
  let goOn: (() => void) | undefined;

  async function keepAll() {
    isAtIt = true;
    for (let next = waiting[0]; next && !isStopped; next = waiting[0]) {
      try {
        const page = await next.send(next.request);
        waiting.shift();
        host.take(page, next.set);
        dispatch({ type: 'edited', page });
        dispatch({ type: 'saving', waiting: waiting.length, isHeld: false });
        next.whenStored?.();
        next.whenSettled?.();
      } catch (error) {
        if (!(error instanceof Refused) || error.status >= 500) {
          dispatch({ type: 'saving', waiting: waiting.length, isHeld: true });
          await new Promise<void>((resolve) => {
            const timer = setTimeout(resolve, pause);
            goOn = () => {
              clearTimeout(timer);
              resolve();
            };
          });
          continue;
        }
        waiting.shift();
        next.whenSettled?.();
        dispatch({ type: 'saving', waiting: waiting.length, isHeld: false });
        dispatch({ type: 'not edited', problem: `This change was not kept: ${error.message}` });
        host.refetch();
      }
    }
    isAtIt = false;
  }

  function keep(send: Waiting['send'], set: string | null, done: Pick<Waiting, 'whenStored' | 'whenSettled'> = {}) {
    waiting.push({ send, set, ...done, request: newRequest() });
    dispatch({ type: 'saving', waiting: waiting.length, isHeld: state().saving.isHeld });
    if (!isAtIt) void keepAll();
  }

  function edit(change: ViewEdit, whenSettled?: () => void) {
    const set = present(state());
    // A new tab is opened once it is there.
    const opened =
      change.edit === 'add-tab' || change.edit === 'clear'
        ? change.tab
        : change.edit === 'copy-tab'
          ? change.as
          : undefined;
    keep((request) => service.edit(change, set, request), set, {
      whenSettled,
      whenStored: () => {
        if (opened) dispatch({ type: 'open tab', tab: opened, replace: true });
        // What the view says of a drawing holds now; until it was stored the visit's did.
        if (change.edit === 'draw') {
          dispatch({ type: 'draw', tile: change.tile });
          dispatch({ type: 'hide series', tile: change.tile });
        }
      },
    });
  }

  async function draw(set: string | null) {
    const { own, page } = state();
    try {
      const drawn = await host.draw(presentOf(set ?? own?.set ?? null, page));
      dispatch({ type: 'drawn', set, page: drawn });
    } catch (error) {
      const problem = `The page could not be drawn as chosen: ${(error as Error).message}`;
      dispatch({ type: 'not drawn', set, problem });
    }
  }

  return {
    hear(now, action, before) {
      if (action?.type === 'edit') edit(action.edit);
      if (action?.type === 'columns') {
        const { tile, table } = action;
        edit({ edit: 'table', tile, table }, () => dispatch({ type: 'columns stored', tile, table }));
      }
      if (action?.type === 'step') {
        const set = present(now);
        keep((request) => service.step(action.way, set, request), set);
      }
      if (action?.type === 'go to step') {
        const set = present(now);
        keep((request) => service.goTo(action.step, set, request), set);
      }
      // The dashboard opens for this viewer as it is now, or, without a word, as its developer has it open.
      if (action?.type === 'keep')
        edit(
          action.isAsNow
            ? { edit: 'keep-picks', selections: asked(now.selections), parameters: withoutDrawings(now.set) }
            : { edit: 'keep-picks', selections: null, parameters: null },
        );
      if (now.coming && now.coming !== before?.coming) void draw(now.coming.set);
    },
    stop() {
      isStopped = true;
      goOn?.();
    },
  };
}
