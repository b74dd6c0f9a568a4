import { useQuery } from '@tanstack/react-query';
import { api, unwrap } from '../api/client';
import { usePage } from '../dashboard/usePage';

/**
 * How the open view differs from the opening view, and what was published since the viewer last changed it.
 * @param seen The newest version of whose changes they were told already.
 */
export function useDifferences(seen = 0) {
  const { name, version } = usePage((s) => s.page);
  const { view, mark } = usePage((s) => s.page.view);
  return useQuery({
    queryKey: ['differences', name, version, view, mark, seen],
    queryFn: () =>
      unwrap(
        api.GET('/api/dashboards/{dashboard}/view/differences', {
          params: { path: { dashboard: name }, query: { view, ...(seen > 0 ? { seen } : {}) } },
        }),
      ),
    placeholderData: (before) => before,
  });
}
