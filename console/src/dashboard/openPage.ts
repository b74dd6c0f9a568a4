import type { DashboardPage } from '../api/client';
import { serviceOf } from '../api/dashboard';
import type { Kept } from '../model/opening';
import type { Address } from '../model/page/address';
import { createPage, type PageStore } from '../model/page/pageStore';
import { pictureOf } from '../pictures';
import { foldsOf, isFirstVisit } from './folds';

/** Once the browser has nothing better to do; where it does not tell, in a while. */
const whenIdle = (what: () => void) =>
  typeof requestIdleCallback === 'undefined' ? void setTimeout(what, 200) : void requestIdleCallback(what);

/** The state of a dashboard that has been fetched, as an address has it shown. */
export function openPage(page: DashboardPage, address: Address, kept?: Kept, problem?: string): PageStore {
  const store = createPage(
    { page, own: kept, problem, address, folds: foldsOf(page.name), isAbout: isFirstVisit(page) },
    serviceOf(page.name, page.view.view),
  );
  // What draws comes while the figures are asked for. What does not come is told where it is to be drawn.
  for (const tile of store.getState().shown) {
    const { load, isHeavy } = pictureOf(tile);
    const bring = () => void load().catch(() => undefined);
    // Ahead of the page and its first figures, it would keep them waiting. A tile that is drawn before there was time brings it itself.
    if (isHeavy) whenIdle(bring);
    else bring();
  }
  return store;
}

const opened = new WeakMap<DashboardPage, PageStore>();

/**
 * Opens a dashboard before it is drawn, so that its figures are on their way meanwhile.
 * @returns Settled once the first of them is there, if any are asked for.
 */
export async function openAhead(page: DashboardPage, address: Address): Promise<void> {
  // What a viewer keeps decides which figures are asked for, and is not known yet.
  if (page.view.keeps !== null) return;
  const store = openPage(page, address);
  opened.set(page, store);
  await store.askAhead();
}

/** The state of a dashboard that was opened ahead, for whoever draws it; once only. */
export function takeOpened(page: DashboardPage): PageStore | undefined {
  const store = opened.get(page);
  opened.delete(page);
  return store;
}
