import { useEffect } from 'react';
import { draftAt } from '../api/draft';
import { DashboardRoute } from '../dashboard/DashboardRoute';

/** A dashboard of one's own as one looks at it; all that this window asked for was of it, so that what comes after is loaded anew. */
export default function OwnPage() {
  useEffect(
    () => () => {
      if (draftAt(window.location.pathname) === undefined) window.location.reload();
    },
    [],
  );
  return <DashboardRoute />;
}
