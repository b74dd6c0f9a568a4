import type { QueryClient } from '@tanstack/react-query';
import { pictureOf } from '../pictures';
import { sessionQuery } from '../session/sessionQuery';
import { pageQuery } from './pageQuery';

/** Asks for what the address is about beside asking who is signed in, and brings what draws its tiles as soon as these are known. */
export function askAhead(queries: QueryClient, location: Location): void {
  void queries.prefetchQuery(sessionQuery);
  const name = /^\/d\/([^/]+)$/.exec(location.pathname)?.[1];
  if (!name) return;
  const address = new URLSearchParams(location.search);
  const query = pageQuery(decodeURIComponent(name), address.get('set'));
  void queries.prefetchQuery(query).then(() => {
    // A refusal, or nobody signed in, is told where the page is drawn.
    const page = queries.getQueryData(query.queryKey);
    const tab = page?.tabs.find((t) => t.name === address.get('tab')) ?? page?.tabs[0];
    for (const tile of tab?.tiles ?? [])
      pictureOf(tile)
        .load()
        .catch(() => undefined);
  });
}
