import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link, useParams } from 'wouter';
import { api, type DashboardPage, Refused, unwrap, zone } from '../api/client';
import { drafted, isSeen, pageBeside } from '../api/draft';
import { type Kept, leftOut } from '../model/opening';
import { presentOf, writeSettings } from '../model/parameters';
import { ofService } from '../model/selections';
import { visitKey } from '../model/visit';
import { useAddressQuery } from '../route';
import { Header } from '../session/Header';
import { DashboardView } from './DashboardView';
import { pageQuery } from './pageQuery';
import { readWall } from './wall';

/** A wall has nobody who would try again. */
function Away() {
  useEffect(() => {
    const timer = setTimeout(() => window.location.reload(), 15_000);
    return () => clearTimeout(timer);
  }, []);
  return (
    <main style={{ padding: 24 }} role="alert">
      The dashboard can't be had now. It is tried again by itself.
    </main>
  );
}

/** What stands while a page is on its way: nothing for a moment, in which most are there; drawing it costs as much as their first figure. */
function Coming() {
  const [isLate, setLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLate(true), 200);
    return () => clearTimeout(timer);
  }, []);
  return isLate && <Header title="" back />;
}

/** Fetches the dashboard that the address names. */
export function DashboardRoute() {
  const { dashboard = '' } = useParams<{ dashboard?: string }>();
  const [address] = useAddressQuery();
  useEffect(() => {
    if (!isSeen) sessionStorage.setItem(visitKey(dashboard), address.toString());
  }, [dashboard, address]);
  // Which parameters change the drawing, and whether something is kept, is known once the page is there.
  const view = address.get('view');
  const which = `${dashboard} ${view ?? ''}`;
  const [last, setLast] = useState<{ page: DashboardPage; which: string }>();
  const known = last?.which === which && last.page.name === dashboard ? last.page : undefined;
  const keeps = known?.view.keeps ?? null;
  const kept = useQuery({
    queryKey: ['kept', dashboard, known?.version, keeps, known?.view.view],
    enabled: keeps !== null,
    queryFn: async (): Promise<Kept> => {
      const answer = await unwrap(
        api.POST('/api/dashboards/{dashboard}/opening', {
          params: { path: { dashboard } },
          body: { selections: null, viewing: { parameters: null, zone, view: known?.view.view ?? null } },
        }),
      );
      return {
        selections: ofService(answer.selections),
        set: writeSettings(answer.parameters),
        dropped: leftOut(answer.dropped),
        names: answer.names,
      };
    },
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const own = keeps === null ? undefined : kept.data;
  const written = address.get('set') ?? own?.set ?? null;
  const set = known ? presentOf(written, known) : written;
  // Another view is another page: what is shown of the one before is none of it.
  const page = useQuery({
    ...pageQuery(dashboard, set, view),
    placeholderData: (before, asked) =>
      asked?.queryKey[1] === dashboard && asked.queryKey[3] === view ? before : undefined,
  });
  // At once, and not after a page that is none yet was drawn.
  if (page.data !== last?.page || (last && last.which !== which)) setLast(page.data && { page: page.data, which });
  useEffect(() => {
    if (dashboard !== drafted) return;
    const shown = { set, view };
    pageBeside.now = shown;
    return () => {
      if (pageBeside.now === shown) pageBeside.now = undefined;
    };
  }, [dashboard, set, view]);
  // Drawn once it is known what it opens with; later changes come while it stands.
  const stands = useRef('');
  const isKnown = !page.data?.view.keeps || own !== undefined || kept.error !== null;
  if (known && page.data?.name === dashboard && isKnown && !page.isPlaceholderData) stands.current = which;
  // Not shared any more, or taken away: what stands there is not theirs to look at, whatever was read before.
  const isGone = page.error instanceof Refused && ['unknown-dashboard', 'unknown-view'].includes(page.error.code);
  if (page.data && !isGone && stands.current === which)
    return (
      <DashboardView
        key={`${dashboard} ${page.data.view.view}`}
        asked={view}
        page={page.data}
        kept={own}
        problem={kept.error?.message}
      />
    );
  if (page.error && readWall(address)) return <Away />;
  if (!page.error) return <Coming />;
  const isViewGone = page.error instanceof Refused && page.error.code === 'unknown-view';
  return (
    <>
      <Header title={isViewGone ? 'No such view' : 'No such dashboard'} back />
      <main style={{ padding: 24 }} role="alert">
        <p>{page.error.message}</p>
        {isViewGone && (
          <p>
            <Link
              to={`/d/${dashboard}`}
              style={{ color: 'var(--accent)' }}
              onClick={() => sessionStorage.removeItem(visitKey(dashboard))}
            >
              Open the dashboard without it
            </Link>
          </p>
        )}
        {page.error instanceof Refused && !isViewGone && page.error.remedy && (
          <p className="quiet">Go back to the list of your dashboards.</p>
        )}
      </main>
    </>
  );
}
