import { queryOptions } from '@tanstack/react-query';
import { api, unwrap } from '../api/client';

/** The dashboard as some parameters have it drawn. */
export const pageQuery = (dashboard: string, set: string | null) =>
  queryOptions({
    queryKey: ['dashboard', dashboard, set],
    queryFn: () =>
      unwrap(
        api.GET('/api/dashboards/{dashboard}', {
          params: { path: { dashboard }, query: set === null ? {} : { set } },
        }),
      ),
  });
