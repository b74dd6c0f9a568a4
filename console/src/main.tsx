import '@fontsource-variable/inter/wght.css';
import './look/mantine.css';
import './look/base.css';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { lazy, StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter, Route, Routes } from 'react-router';
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
        <BrowserRouter>
          <SignedIn>
            <Routes>
              <Route path="/" element={<DashboardList />} />
              <Route path="/d/:dashboard" element={<DashboardRoute />} />
              <Route path="/d/:dashboard/design" element={<Suspense>{<DesignPage />}</Suspense>} />
              <Route path="/d/:dashboard/seen" element={<Suspense>{<SeenPage />}</Suspense>} />
              <Route path="/d/:dashboard/version/:number" element={<Suspense>{<VersionPage />}</Suspense>} />
              <Route path="/own/:dashboard" element={<Suspense>{<OwnPage />}</Suspense>} />
              <Route path="/own/:owner/:dashboard" element={<Suspense>{<OwnPage />}</Suspense>} />
              <Route path="/data" element={<Suspense>{<DataPage />}</Suspense>} />
              <Route path="/data/new" element={<Suspense>{<NewDataset />}</Suspense>} />
              <Route path="/data/:dataset/change" element={<Suspense>{<DatasetPage />}</Suspense>} />
              <Route path="/definitions/:kind/:name" element={<Suspense>{<DefinitionPage />}</Suspense>} />
              <Route path="*" element={<DashboardList />} />
            </Routes>
          </SignedIn>
        </BrowserRouter>
      </QueryClientProvider>
    </Themed>
  </StrictMode>,
);
