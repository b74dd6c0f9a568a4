import { queryOptions } from '@tanstack/react-query';
import { api, type DashboardPage, unwrap } from '../api/client';
import { knownSettings, readSettings, writeSettings } from '../model/parameters';

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

/** Of the parameters in an address those that change how tiles are drawn, as the page is fetched with them. */
export const presentOf = (written: string | null, page: DashboardPage): string | null =>
  writeSettings(
    knownSettings(
      readSettings(written),
      page.parameters.filter((p) => p.presents),
    ),
  );
