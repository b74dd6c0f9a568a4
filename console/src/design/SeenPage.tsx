import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useParams } from 'wouter';
import { stepsOf } from '../api/draft';
import { DashboardRoute } from '../dashboard/DashboardRoute';

/** The page of a draft as somebody has it, beside its design: each step is seen here too. */
export default function SeenPage() {
  const { dashboard = '' } = useParams<{ dashboard?: string }>();
  const queries = useQueryClient();
  useEffect(() => {
    const steps = stepsOf(dashboard);
    steps.onmessage = () => {
      void queries.invalidateQueries({ queryKey: ['dashboard', dashboard] });
      void queries.invalidateQueries({ queryKey: ['kept', dashboard] });
    };
    return () => steps.close();
  }, [dashboard, queries]);
  return <DashboardRoute />;
}
