import '@fontsource-variable/inter/wght.css';
import './look/mantine.css';
import './look/base.css';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { lazy, StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { Route, Switch } from 'wouter';
import { Refused } from './api/client';
import { askAhead } from './dashboard/askAhead';
import { DashboardRoute } from './dashboard/DashboardRoute';
import { DashboardList } from './dashboards/DashboardList';
import { applyLook } from './look/look';
import { Themed } from './look/Themed';
import { SignedIn } from './session/SignedIn';

applyLook();

// Looking at data and defining it come apart from the shell: most viewers never open them.
const DataPage = lazy(() => import('./data/DataPage'));
const NewDataset = lazy(() => import('./data/NewDataset'));
const DatasetPage = lazy(() => import('./data/DatasetPage'));
const DesignPage = lazy(() => import('./design/DesignPage'));
const VersionPage = lazy(() => import('./design/VersionPage'));
const SeenPage = lazy(() => import('./design/SeenPage'));
const DefinitionPage = lazy(() => import('./design/DefinitionPage'));
const OwnPage = lazy(() => import('./design/OwnPage'));

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      refetchOnWindowFocus: false,
      retry: (count, error) => !(error instanceof Refused) && count < 2,
    },
  },
});

askAhead(queries, window.location);

const root = document.getElementById('root');
if (!root) throw new Error('The page has no root.');
createRoot(root).render(
  <StrictMode>
    <Themed>
      <QueryClientProvider client={queries}>
        <SignedIn>
          <Suspense>
            <Switch>
              <Route path="/" component={DashboardList} />
              <Route path="/d/:dashboard" component={DashboardRoute} />
              <Route path="/d/:dashboard/design" component={DesignPage} />
              <Route path="/d/:dashboard/seen" component={SeenPage} />
              <Route path="/d/:dashboard/version/:number" component={VersionPage} />
              <Route path="/own/:dashboard" component={OwnPage} />
              <Route path="/own/:owner/:dashboard" component={OwnPage} />
              <Route path="/data" component={DataPage} />
              <Route path="/data/new" component={NewDataset} />
              <Route path="/data/:dataset/change" component={DatasetPage} />
              <Route path="/definitions/:kind/:name" component={DefinitionPage} />
              <Route component={DashboardList} />
            </Switch>
          </Suspense>
        </SignedIn>
      </QueryClientProvider>
    </Themed>
  </StrictMode>,
);
