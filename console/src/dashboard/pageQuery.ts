import { queryOptions } from '@tanstack/react-query';
import { api, type DashboardPage, unwrap } from '../api/client';
import { isSeen } from '../api/draft';

/** What is only looked at can't be arranged. */
const lookedAt = (page: DashboardPage): DashboardPage => ({
  ...page,
  may: [],
  tabs: page.tabs.map((t) => ({ ...t, may: [], tiles: t.tiles.map((x) => ({ ...x, may: [] })) })),
});

/** Asks for a dashboard as some parameters have it drawn, in one of the viewer's views. */
export async function fetchPage(dashboard: string, set: string | null, view: string | null): Promise<DashboardPage> {
  const page = await unwrap(
    api.GET('/api/dashboards/{dashboard}', {
      params: {
        path: { dashboard },
        query: { ...(set === null ? {} : { set }), ...(view === null ? {} : { view }) },
      },
    }),
  );
  return isSeen ? lookedAt(page) : page;
}

/** The dashboard as some parameters have it drawn, in one of the viewer's views; null for the one that opens first. */
export const pageQuery = (dashboard: string, set: string | null, view: string | null) =>
  queryOptions({
    queryKey: ['dashboard', dashboard, set, view],
    queryFn: () => fetchPage(dashboard, set, view),
  });
