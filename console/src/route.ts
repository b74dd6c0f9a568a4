import { useCallback, useMemo } from 'react';
import { useLocation, useRouter } from 'wouter';

interface How {
  /** In place of the address that stands, so that Back does not lead to it. */
  replace?: boolean;
  /** What the next page may read of this one; it is kept with the step of the window's history. */
  state?: unknown;
}

/** Goes to an address of this console, or to another query of the page that is open. */
export function useGo(): (to: string, how?: How) => void {
  return useLocation()[1];
}

/** The query of the window's address, to be read only, and what puts another in its place. */
export function useAddressQuery(): [URLSearchParams, (query: URLSearchParams, how?: How) => void] {
  const router = useRouter();
  // As it stands in the address: the router's own decodes it once before it is taken apart, and a sign for percent would be lost.
  const search = router.searchHook(router);
  const query = useMemo(() => new URLSearchParams(search), [search]);
  const go = useGo();
  const set = useCallback(
    (next: URLSearchParams, how?: How) =>
      go(next.size > 0 ? `${window.location.pathname}?${next}` : window.location.pathname, how),
    [go],
  );
  return [query, set];
}
