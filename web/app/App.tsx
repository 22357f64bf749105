import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { type JSX, lazy, type ReactNode, Suspense } from 'react';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { about } from '../api/call.js';
import { ApiFailure } from '../api/client.js';
import { AskedProvider } from '../beam/asked.js';
import { Reading } from '../ui/State.js';
import { Frame } from './Frame.js';
import { Session } from './session.js';

const Hunt = lazy(() =>
  import('../features/hunt/HuntPage.js').then((module) => ({ default: module.HuntPage })),
);
const Snapshot = lazy(() =>
  import('../features/hunt/snapshots/SnapshotPage.js').then((module) => ({ default: module.SnapshotPage })),
);
const Alerts = lazy(() =>
  import('../features/alerts/AlertsPage.js').then((module) => ({ default: module.AlertsPage })),
);
const Desk = lazy(() =>
  import('../features/desk/DeskPage.js').then((module) => ({ default: module.DeskPage })),
);
const Dashboards = lazy(() =>
  import('../features/dashboards/DashboardsPage.js').then((module) => ({ default: module.DashboardsPage })),
);
const Dashboard = lazy(() =>
  import('../features/dashboards/DashboardPage.js').then((module) => ({ default: module.DashboardPage })),
);
const Rules = lazy(() =>
  import('../features/rules/RulesPage.js').then((module) => ({ default: module.RulesPage })),
);
const Rule = lazy(() =>
  import('../features/rules/RulePage.js').then((module) => ({ default: module.RulePage })),
);
const Tuning = lazy(() =>
  import('../features/tuning/TuningPage.js').then((module) => ({ default: module.TuningPage })),
);
const Coverage = lazy(() =>
  import('../features/tuning/CoveragePage.js').then((module) => ({ default: module.CoveragePage })),
);
const IntakeRules = lazy(() =>
  import('../features/intake-rules/IntakeRulesPage.js').then((module) => ({
    default: module.IntakeRulesPage,
  })),
);
const LogSources = lazy(() =>
  import('../features/rules/LogSourcesPage.js').then((module) => ({ default: module.LogSourcesPage })),
);
const Destinations = lazy(() =>
  import('../features/destinations/DestinationsPage.js').then((module) => ({
    default: module.DestinationsPage,
  })),
);
const Cases = lazy(() =>
  import('../features/cases/CasesPage.js').then((module) => ({ default: module.CasesPage })),
);
const Case = lazy(() =>
  import('../features/cases/CasePage.js').then((module) => ({ default: module.CasePage })),
);
const Sources = lazy(() =>
  import('../features/sources/SourcesPage.js').then((module) => ({ default: module.SourcesPage })),
);
const Lists = lazy(() =>
  import('../features/lists/ListsPage.js').then((module) => ({ default: module.ListsPage })),
);
const Workbench = lazy(() =>
  import('../features/sources/WorkbenchPage.js').then((module) => ({ default: module.WorkbenchPage })),
);
const People = lazy(() =>
  import('../features/people/PeoplePage.js').then((module) => ({ default: module.PeoplePage })),
);
const Clock = lazy(() =>
  import('../features/clock/ClockPage.js').then((module) => ({ default: module.ClockPage })),
);
const Runbooks = lazy(() =>
  import('../features/runbooks/RunbooksPage.js').then((module) => ({ default: module.RunbooksPage })),
);
const Offer = lazy(() =>
  import('../features/alerts/OfferPage.js').then((module) => ({ default: module.OfferPage })),
);
const Run = lazy(() =>
  import('../features/runbooks/RunPage.js').then((module) => ({ default: module.RunPage })),
);
const Dossier = lazy(() =>
  import('../features/dossier/DossierPage.js').then((module) => ({ default: module.DossierPage })),
);

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      retry: (failures, error) => failures < 2 && error instanceof ApiFailure && error.problem.status === 0,
    },
  },
});

// A session that has ended shows the sign-in, wherever one is.
client.getQueryCache().subscribe(({ type, query }) => {
  if (type !== 'updated') return;
  const error: unknown = query.state.error;
  const key = query.queryKey as readonly unknown[];
  if (error instanceof ApiFailure && error.problem.code === 'not-signed-in' && key[0] !== 'session') {
    void client.invalidateQueries(about('session'));
  }
});

const Place = ({ children }: { children: ReactNode }): JSX.Element => (
  <Suspense
    fallback={
      <main className="bench">
        <section className="sheet">
          <Reading title="Opening" />
        </section>
      </main>
    }
  >
    {children}
  </Suspense>
);

const Nowhere = (): JSX.Element => (
  <main className="bench">
    <section className="sheet">
      <div className="state">
        <h1 className="section-head mb-0">There is nothing at this address</h1>
        <p>
          <a href="/desk">Go to the Desk</a>
        </p>
      </div>
    </section>
  </main>
);

/** The whole application. */
export function App(): JSX.Element {
  return (
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <Session>
          <AskedProvider>
            <Routes>
              <Route element={<Frame />}>
                <Route index element={<Navigate to="/desk" replace />} />
                <Route
                  path="/hunt"
                  element={
                    <Place>
                      <Hunt />
                    </Place>
                  }
                />
                <Route
                  path="/desk"
                  element={
                    <Place>
                      <Desk />
                    </Place>
                  }
                />
                <Route
                  path="/dashboards"
                  element={
                    <Place>
                      <Dashboards />
                    </Place>
                  }
                />
                <Route
                  path="/dashboards/:id"
                  element={
                    <Place>
                      <Dashboard />
                    </Place>
                  }
                />
                <Route
                  path="/snapshot/:id"
                  element={
                    <Place>
                      <Snapshot />
                    </Place>
                  }
                />
                <Route
                  path="/alerts/:id?"
                  element={
                    <Place>
                      <Alerts />
                    </Place>
                  }
                />
                <Route
                  path="/rules"
                  element={
                    <Place>
                      <Rules />
                    </Place>
                  }
                />
                <Route
                  path="/coverage"
                  element={
                    <Place>
                      <Coverage />
                    </Place>
                  }
                />
                <Route
                  path="/tuning/:id?"
                  element={
                    <Place>
                      <Tuning />
                    </Place>
                  }
                />
                <Route
                  path="/cases"
                  element={
                    <Place>
                      <Cases />
                    </Place>
                  }
                />
                <Route
                  path="/cases/:id"
                  element={
                    <Place>
                      <Case />
                    </Place>
                  }
                />
                <Route
                  path="/answers/:token"
                  element={
                    <Place>
                      <Offer />
                    </Place>
                  }
                />
                <Route
                  path="/runbooks/runs/:id"
                  element={
                    <Place>
                      <Run />
                    </Place>
                  }
                />
                <Route
                  path="/runbooks/:name?"
                  element={
                    <Place>
                      <Runbooks />
                    </Place>
                  }
                />
                <Route
                  path="/clock"
                  element={
                    <Place>
                      <Clock />
                    </Place>
                  }
                />
                <Route
                  path="/people"
                  element={
                    <Place>
                      <People />
                    </Place>
                  }
                />
                <Route
                  path="/rules/destinations"
                  element={
                    <Place>
                      <Destinations />
                    </Place>
                  }
                />
                <Route
                  path="/sources/~way-in"
                  element={
                    <Place>
                      <IntakeRules />
                    </Place>
                  }
                />
                <Route
                  path="/rules/log-sources"
                  element={
                    <Place>
                      <LogSources />
                    </Place>
                  }
                />
                <Route
                  path="/rules/:id"
                  element={
                    <Place>
                      <Rule />
                    </Place>
                  }
                />
                <Route
                  path="/lists/:list?"
                  element={
                    <Place>
                      <Lists />
                    </Place>
                  }
                />
                <Route
                  path="/sources/:source/recipe"
                  element={
                    <Place>
                      <Workbench />
                    </Place>
                  }
                />
                <Route
                  path="/sources/:source?"
                  element={
                    <Place>
                      <Sources />
                    </Place>
                  }
                />
                <Route
                  path="/dossier/:kind/:name"
                  element={
                    <Place>
                      <Dossier />
                    </Place>
                  }
                />
                <Route path="*" element={<Nowhere />} />
              </Route>
            </Routes>
          </AskedProvider>
        </Session>
      </BrowserRouter>
    </QueryClientProvider>
  );
}
