import type { QueryClient } from '@tanstack/react-query';
import { readAddress } from '../model/page/address';
import { presentOf } from '../model/parameters';
import { sessionQuery } from '../session/sessionQuery';
import { openAhead } from './openPage';
import { pageQuery } from './pageQuery';

/**
 * Asks for the dashboard that the address names beside asking who is signed in, and for its figures as soon as it is known. What is
 * refused is told where it is shown.
 */
export function askAhead(queries: QueryClient, location: Location): void {
  void queries.prefetchQuery(sessionQuery);
  const name = /^\/d\/([^/]+)$/.exec(location.pathname)?.[1];
  if (!name) return;
  const query = new URLSearchParams(location.search);
  const [dashboard, set, view] = [decodeURIComponent(name), query.get('set'), query.get('view')];
  queries
    .fetchQuery(pageQuery(dashboard, set, view))
    .then((page) => {
      // Parameters that only filter draw the same page: it is known under both names.
      const present = presentOf(set, page);
      if (present !== set) queries.setQueryData(pageQuery(dashboard, present, view).queryKey, page);
      openAhead(page, readAddress(query));
    })
    .catch(() => undefined);
}
