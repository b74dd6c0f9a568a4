import { useQuery } from '@tanstack/react-query';
import { api, unwrap } from '../api/client';
import { usePage } from '../dashboard/usePage';

/** How the open view differs from the opening view, and what was published since the viewer last changed it. */
export function useDifferences() {
  const { name, version } = usePage((s) => s.page);
  const { view, mark } = usePage((s) => s.page.view);
  return useQuery({
    queryKey: ['differences', name, version, view, mark],
    queryFn: () =>
      unwrap(
        api.GET('/api/dashboards/{dashboard}/view/differences', {
          params: { path: { dashboard: name }, query: { view } },
        }),
      ),
    placeholderData: (before) => before,
  });
}
