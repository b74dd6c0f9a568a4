import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo, useState } from 'react';
import { api, type DashboardPage, unwrap, type ViewEdit } from '../api/client';

/** A tab whose name is being asked for; without a tab, a new one. */
export interface Naming {
  tab?: string;
  title: string;
}

/** The viewer's own arrangement: each change is stored at the service before the page shows it. */
export interface View {
  edit: (edit: ViewEdit) => Promise<boolean>;
  step: (way: 'undo' | 'redo') => Promise<boolean>;
  problem?: string;
  naming?: Naming;
  askName: (naming: Naming | undefined) => void;
}

/** @param set The parameters that the page was fetched with, as an address carries them. */
export function useView(dashboard: string, set: string | null): View {
  const queries = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const [naming, askName] = useState<Naming>();

  const take = useCallback(
    async (answer: Promise<DashboardPage>) => {
      try {
        queries.setQueryData(['dashboard', dashboard, set], await answer);
        // Drawn by other parameters, the page has the new arrangement too.
        void queries.invalidateQueries({
          queryKey: ['dashboard', dashboard],
          refetchType: 'none',
          predicate: (q) => q.queryKey[2] !== set,
        });
        setProblem(undefined);
        return true;
      } catch (error) {
        setProblem(`This change was not kept: ${(error as Error).message}`);
        void queries.invalidateQueries({ queryKey: ['dashboard', dashboard] });
        return false;
      }
    },
    [queries, dashboard, set],
  );
  const params = useMemo(
    () => ({ params: { path: { dashboard }, query: set === null ? {} : { set } } }),
    [dashboard, set],
  );
  const edit = useCallback(
    (body: ViewEdit) => take(unwrap(api.POST('/api/dashboards/{dashboard}/view/edits', { ...params, body }))),
    [take, params],
  );
  const step = useCallback(
    (way: 'undo' | 'redo') =>
      take(
        unwrap(
          way === 'undo'
            ? api.POST('/api/dashboards/{dashboard}/view/undo', params)
            : api.POST('/api/dashboards/{dashboard}/view/redo', params),
        ),
      ),
    [take, params],
  );
  return { edit, step, problem, naming, askName };
}
