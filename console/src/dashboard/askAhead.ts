import type { QueryClient } from '@tanstack/react-query';
import { readAddress } from '../model/page/address';
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
  queries
    .fetchQuery(pageQuery(decodeURIComponent(name), query.get('set'), query.get('view')))
    .then((page) => openAhead(page, readAddress(query)))
    .catch(() => undefined);
}
