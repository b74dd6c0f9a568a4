import { keepPreviousData, queryOptions, useQuery } from '@tanstack/react-query';
import { useRef } from 'react';
import { useParams, useSearchParams } from 'react-router';
import { api, type DashboardPage, Refused, unwrap } from '../api/client';
import { Header } from '../session/Header';
import { DashboardView } from './DashboardView';
import { knownSettings, readSettings, writeSettings } from './parameters';

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

/** Fetches the dashboard that the address names. */
export function DashboardRoute() {
  const { dashboard = '' } = useParams();
  const [address] = useSearchParams();
  // Which parameters change the drawing is known once the page is there; at first all are sent.
  const last = useRef<DashboardPage>(undefined);
  const written = address.get('set');
  const set = last.current?.name === dashboard ? presentOf(written, last.current) : written;
  const page = useQuery({ ...pageQuery(dashboard, set), placeholderData: keepPreviousData });
  if (page.data) last.current = page.data;
  if (page.data) return <DashboardView key={dashboard} page={page.data} />;
  if (!page.error) return <Header title="" back />;
  return (
    <>
      <Header title="Not to be had" back />
      <main style={{ padding: 24 }} role="alert">
        <p>{page.error.message}</p>
        {page.error instanceof Refused && page.error.remedy && (
          <p className="quiet">Go back to the list of your dashboards.</p>
        )}
      </main>
    </>
  );
}
