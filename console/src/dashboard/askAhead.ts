import type { QueryClient } from '@tanstack/react-query';
import { decoded } from '../api/draft';
import { readAddress } from '../model/page/address';
import { presentOf } from '../model/parameters';
import { sessionQuery } from '../session/sessionQuery';
import { openAhead } from './openPage';
import { fetchPage, pageQuery } from './pageQuery';

/** So long, in milliseconds, a page waits for its first figure, to be drawn once with it and not twice. */
const patience = 100;

/**
 * Asks for the dashboard that the address names beside asking who is signed in, and for its figures as soon as it is known. What is
 * refused is told where it is shown.
 */
export function askAhead(queries: QueryClient, location: Location): void {
  void queries.prefetchQuery(sessionQuery);
  const dashboard = decoded(/^\/d\/([^/]+)$/.exec(location.pathname)?.[1]);
  if (!dashboard) return;
  const query = new URLSearchParams(location.search);
  const [set, view] = [query.get('set'), query.get('view')];
  const keyAs = (set: string | null) => pageQuery(dashboard, set, view).queryKey;
  void queries.prefetchQuery({
    queryKey: keyAs(set),
    queryFn: async () => {
      const page = await fetchPage(dashboard, set, view);
      await Promise.race([openAhead(page, readAddress(query)), new Promise((waited) => setTimeout(waited, patience))]);
      // Parameters that only filter draw the same page: it is known under both names.
      const present = presentOf(set, page);
      if (present !== set) queries.setQueryData(keyAs(present), page);
      return page;
    },
  });
}
