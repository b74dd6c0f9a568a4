import type { QueryClient } from '@tanstack/react-query';
import { sessionQuery } from '../session/sessionQuery';
import { pageQuery } from './pageQuery';

/** Asks for the dashboard that the address names beside asking who is signed in. What is refused is told where it is shown. */
export function askAhead(queries: QueryClient, location: Location): void {
  void queries.prefetchQuery(sessionQuery);
  const name = /^\/d\/([^/]+)$/.exec(location.pathname)?.[1];
  if (!name) return;
  const query = new URLSearchParams(location.search);
  void queries.prefetchQuery(pageQuery(decodeURIComponent(name), query.get('set'), query.get('view')));
}
