import type { DashboardPage, ViewEdit } from '../../../api/client';
import { presentOf, withoutDrawings } from '../../parameters';
import { asked } from '../../selections';
import type { PageState } from '../state';
import type { Effect, Tools } from './effect';

/** How the page is drawn by the parameters of an address. */
const present = (state: PageState) => presentOf(state.address.set ?? state.own?.set ?? null, state.page);

/** Has the service keep each change of the viewer's arrangement before the page shows it, and draw the page as parameters have it. */
export function arranging({ service, host, dispatch, state }: Tools): Effect {
  async function keep(answer: Promise<DashboardPage>, set: string | null, then?: () => void) {
    try {
      const page = await answer;
      host.take(page, set);
      dispatch({ type: 'edited', page });
      then?.();
    } catch (error) {
      dispatch({ type: 'not edited', problem: `This change was not kept: ${(error as Error).message}` });
      host.refetch();
    }
  }

  function edit(change: ViewEdit) {
    const set = present(state());
    // A new tab is opened once it is there.
    const opened =
      change.edit === 'add-tab' || change.edit === 'clear'
        ? change.tab
        : change.edit === 'copy-tab'
          ? change.as
          : undefined;
    void keep(
      service.edit(change, set),
      set,
      opened ? () => dispatch({ type: 'open tab', tab: opened, replace: true }) : undefined,
    );
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
      if (action?.type === 'step') {
        const set = present(now);
        void keep(service.step(action.way, set), set);
      }
      if (action?.type === 'go to step') {
        const set = present(now);
        void keep(service.goTo(action.step, set), set);
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
    stop: () => undefined,
  };
}
