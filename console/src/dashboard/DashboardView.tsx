import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useEffectEvent, useLayoutEffect, useMemo, useState } from 'react';
import { usePathname } from 'wouter/use-browser-location';
import type { DashboardPage } from '../api/client';
import type { Kept } from '../model/opening';
import { type Address, readAddress, writeAddress } from '../model/page/address';
import type { Host } from '../model/page/service';
import { useAddressQuery } from '../route';
import { keepVisit } from './folds';
import { openPage, takeOpened } from './openPage';
import { PageLayout } from './PageLayout';
import { pageQuery } from './pageQuery';
import { useNews } from './useNews';
import { PageContext } from './usePage';

interface Props {
  page: DashboardPage;
  /** The view that the address names; null for the one that opens first. */
  asked: string | null;
  kept?: Kept;
  problem?: string;
}

/** A dashboard that has been fetched: gives its state an owner, and a window to stand in. */
export function DashboardView({ page, asked, kept, problem }: Props) {
  const [query, setQuery] = useAddressQuery();
  const pathname = usePathname();
  const [store] = useState(() => takeOpened(page) ?? openPage(page, readAddress(query), kept, problem));
  const queries = useQueryClient();
  const go = useEffectEvent((address: Address, isReplacing: boolean) =>
    setQuery(writeAddress(new URLSearchParams(window.location.search), address), { replace: isReplacing }),
  );
  const host = useMemo<Omit<Host, 'go'>>(
    () => ({
      draw: (present) => queries.fetchQuery(pageQuery(page.name, present, asked)),
      take: (edited, present) => {
        queries.setQueryData(pageQuery(page.name, present, asked).queryKey, edited);
        // Drawn by other parameters, the page has the new arrangement too: what was fetched before it is of no use.
        queries.removeQueries({
          queryKey: ['dashboard', page.name],
          predicate: (q) => q.queryKey[2] !== present || q.queryKey[3] !== asked,
        });
      },
      refetch: () => void queries.invalidateQueries({ queryKey: ['dashboard', page.name] }),
      isSeen: () => !document.hidden,
    }),
    [queries, page.name, asked],
  );

  useEffect(() => keepVisit(page.name), [page.name]);
  // Before the first paint, so that the service works while the page is drawn.
  useLayoutEffect(
    () => store.start({ ...host, go: (address, isReplacing) => go(address, isReplacing) }),
    [store, host],
  );
  useEffect(() => store.dispatch({ type: 'fetched', page, own: kept, problem }), [store, page, kept, problem]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the window's address is ahead of the one that is drawn, where several steps come at once
  useEffect(() => {
    store.dispatch({ type: 'address', address: readAddress(new URLSearchParams(window.location.search)) });
  }, [store, query]);
  const follow = useEffectEvent(() => {
    const now = new URLSearchParams(window.location.search);
    if (window.location.pathname === pathname && now.get('view') === asked)
      store.dispatch({ type: 'address', address: readAddress(now) });
  });
  useEffect(() => {
    // Back on the heels of a step is drawn as if neither had been: where the address never was another one for the page,
    // the step would stay.
    window.addEventListener('popstate', follow);
    return () => window.removeEventListener('popstate', follow);
  }, []);
  // What another window of the viewer did to this view; one's own change comes with its answer, which is let come first.
  const onView = useCallback(
    (dashboard: string, view: string, mark: string) => {
      const isOther = () => {
        const { page, saving } = store.getState();
        return page.name === dashboard && page.view.view === view && page.view.mark !== mark && saving.waiting === 0;
      };
      if (isOther())
        setTimeout(() => {
          if (isOther()) void queries.invalidateQueries({ queryKey: ['dashboard', dashboard] });
        }, 250);
    },
    [store, queries],
  );
  useNews(store.dispatch, onView, page.view.view);
  useEffect(() => {
    // What is not saved yet would be lost with the window.
    const ask = (event: BeforeUnloadEvent) => {
      if (store.getState().saving.waiting > 0) event.preventDefault();
    };
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [store]);

  return (
    <PageContext value={store}>
      <PageLayout />
    </PageContext>
  );
}
