import { queryOptions } from '@tanstack/react-query';
import { api, unwrap } from '../api/client';

/** The dashboard as some parameters have it drawn, in one of the viewer's views; null for the one that opens first. */
export const pageQuery = (dashboard: string, set: string | null, view: string | null) =>
  queryOptions({
    queryKey: ['dashboard', dashboard, set, view],
    queryFn: () =>
      unwrap(
        api.GET('/api/dashboards/{dashboard}', {
          params: {
            path: { dashboard },
            query: { ...(set === null ? {} : { set }), ...(view === null ? {} : { view }) },
          },
        }),
      ),
  });
