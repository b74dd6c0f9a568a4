import { useQueryClient } from '@tanstack/react-query';
import { api, unwrap } from '../api/client';
import { usePage } from './usePage';

/** What a dialog about a view is for: a new one, or another name for the open one. */
export type ViewNaming = { isNew: true; fromOpening: boolean } | { isNew: false };

/** Changes a view of this dashboard, and has the page take up what became of it. */
export function useViews(): (
  view: string,
  what: 'title' | 'first' | 'remove' | 'restore',
  title?: string,
) => Promise<void> {
  const queries = useQueryClient();
  const dashboard = usePage((s) => s.page.name);
  return async (view, what, title) => {
    const params = { params: { path: { dashboard, view: view === '' ? 'my' : view } }, body: { title: title ?? null } };
    await unwrap(
      what === 'title'
        ? api.POST('/api/dashboards/{dashboard}/views/{view}/title', params)
        : what === 'first'
          ? api.POST('/api/dashboards/{dashboard}/views/{view}/first', params)
          : what === 'remove'
            ? api.POST('/api/dashboards/{dashboard}/views/{view}/remove', params)
            : api.POST('/api/dashboards/{dashboard}/views/{view}/restore', params),
    );
    if (what === 'remove') queries.removeQueries({ queryKey: ['dashboard', dashboard] });
    else await queries.invalidateQueries({ queryKey: ['dashboard', dashboard] });
    await queries.invalidateQueries({ queryKey: ['dashboards'] });
  };
}
