import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { api, Refused, unwrap } from '../api/client';
import { Header } from '../session/Header';
import { DashboardView } from './DashboardView';

/** Fetches the dashboard that the address names. */
export function DashboardRoute() {
  const { dashboard = '' } = useParams();
  const page = useQuery({
    queryKey: ['dashboard', dashboard],
    queryFn: () => unwrap(api.GET('/api/dashboards/{dashboard}', { params: { path: { dashboard } } })),
  });
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
