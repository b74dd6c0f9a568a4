import { lazy, Suspense, useEffect, useMemo } from 'react';
import { drafted } from '../api/draft';
import { presentOf } from '../model/parameters';
import { hasPick } from '../model/selections';
import { useAddressQuery } from '../route';
import { Header } from '../session/Header';
import { About } from './About';
import { Banners } from './Banners';
import classes from './dashboard.module.css';
import { FilterBar } from './FilterBar';
import { HeaderActions } from './HeaderActions';
import { SidePanel } from './SidePanel';
import { Tabs } from './Tabs';
import { TileGrid } from './TileGrid';
import { useDispatch, usePage } from './usePage';
import { ViewSwitch } from './ViewSwitch';
import { readWall } from './wall';

const ArrangeBar = lazy(() => import('../arrange/ArrangeBar'));
const LayoutBar = lazy(() => import('../design/LayoutBar'));
const Remarks = lazy(() => import('./Remarks'));
const ExportDialog = lazy(() => import('./ExportDialog'));
const ExplainPanel = lazy(() => import('./ExplainPanel'));
const RedrawPanel = lazy(() => import('../arrange/RedrawPanel'));
const RowsPanel = lazy(() => import('./RowsPanel'));
const Wall = lazy(() => import('./Wall'));
const WiringPicture = lazy(() => import('./wiring/WiringPicture'));

/** A dashboard: its tabs, what is picked, and the tiles of the open tab. */
export function PageLayout() {
  const isArranging = usePage((s) => s.isArranging);
  const explained = usePage((s) => s.explained);
  const taken = usePage((s) => s.taken);
  const remarked = usePage((s) => s.remarked);
  const isAbout = usePage((s) => s.isAbout);
  const listed = usePage((s) => s.listed);
  const redrawn = usePage((s) => s.redrawn);
  const title = usePage((s) => s.page.title);
  const dispatch = useDispatch();
  const [query] = useAddressQuery();
  const wall = useMemo(() => readWall(query), [query]);
  useKeys();
  // The list of dashboards leads to what was written.
  useEffect(() => {
    if (window.location.hash === '#remarks') dispatch({ type: 'remark', what: {} });
  }, [dispatch]);
  useEffect(() => {
    document.title = `${title} · Weir`;
  }, [title]);
  if (wall)
    return (
      <>
        <Suspense>
          <Wall {...wall} />
        </Suspense>
        <TabArea isOnWall />
      </>
    );
  return (
    <>
      <Header title={title} back beside={drafted === undefined && <ViewSwitch />}>
        {!isArranging && <HeaderActions />}
      </Header>
      <Tabs />
      {isArranging && <Suspense>{drafted === undefined ? <ArrangeBar /> : <LayoutBar />}</Suspense>}
      <FilterBar />
      {isAbout && <About />}
      <Banners />
      <TabArea />
      {listed && (
        <Suspense>
          <RowsPanel key={listed} tile={listed} />
        </Suspense>
      )}
      {redrawn && (
        <Suspense>
          <RedrawPanel key={redrawn} tile={redrawn} />
        </Suspense>
      )}
      {remarked && (
        <Suspense>
          <Remarks tile={remarked.tile} onClose={() => dispatch({ type: 'remark' })} />
        </Suspense>
      )}
      {taken && (
        <Suspense>
          <ExportDialog tile={taken.tile} onClose={() => dispatch({ type: 'take along' })} />
        </Suspense>
      )}
      {explained && (
        <Suspense>
          <ExplainPanel key={explained} tile={explained} />
        </Suspense>
      )}
    </>
  );
}

/** The tiles of the open tab, with its controls beside them. */
function TabArea({ isOnWall = false }: { isOnWall?: boolean }) {
  const tiles = usePage((s) => s.shown);
  const tab = usePage((s) => s.tab);
  const page = usePage((s) => s.page);
  const isWired = usePage((s) => s.isWired && !s.isArranging);
  const present = usePage((s) => presentOf(s.address.set ?? s.own?.set ?? null, s.page));
  const set = usePage((s) => s.shown.filter((t) => t.isInPanel && hasPick(s.selections[t.name])).length);
  const dispatch = useDispatch();
  const inPanel = tiles.filter((t) => t.isInPanel);
  return (
    <main className={classes.page}>
      {isWired && (
        <Suspense>
          <WiringPicture
            dashboard={page.name}
            view={page.view.view}
            set={present}
            tab={tab?.name ?? ''}
            onClose={() => dispatch({ type: 'wire', isOn: false })}
          />
        </Suspense>
      )}
      <div className={classes.withPanel}>
        {inPanel.length > 0 && tab && !isOnWall && (
          <SidePanel name={`${page.name}-${tab.name}`} tiles={inPanel} picked={set} />
        )}
        {tab && <TileGrid tab={tab} />}
      </div>
      {tab?.tiles.every((t) => t.hidden) && (
        <p className={classes.none}>
          There is nothing on this tab.{page.mayArrange && ' Use Arrange to move tiles here.'}
          {drafted !== undefined && ' New tile makes one.'}
        </p>
      )}
      {page.withheld > 0 && (
        <p className={classes.none}>
          {page.withheld === 1 ? 'One tile of this dashboard is' : `${page.withheld} tiles of this dashboard are`} not
          shown: your roles do not grant what {page.withheld === 1 ? 'it needs' : 'they need'}.
        </p>
      )}
    </main>
  );
}

/** One key lays the wiring over the page, another leads from an enlarged tile back to all. */
function useKeys() {
  const dispatch = useDispatch();
  const large = usePage((s) => s.address.large);
  const mayExport = usePage((s) => s.page.mayExport);
  const isTaking = usePage((s) => s.taken !== undefined);
  useEffect(() => {
    // A page of screens prints badly: the PDF is laid out for paper. Once more, and the browser prints the page as it is.
    const print = (e: KeyboardEvent) => {
      if (e.key !== 'p' || !(e.ctrlKey || e.metaKey) || e.shiftKey || e.altKey || !mayExport || isTaking) return;
      e.preventDefault();
      dispatch({ type: 'take along', what: {} });
    };
    window.addEventListener('keydown', print);
    return () => window.removeEventListener('keydown', print);
  }, [dispatch, mayExport, isTaking]);
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const isTyping = e.target instanceof HTMLElement && e.target.closest('input, textarea, [contenteditable]');
      if (e.key === 'w' && !isTyping && !e.ctrlKey && !e.metaKey && !e.altKey) dispatch({ type: 'wire' });
    };
    window.addEventListener('keydown', key);
    return () => window.removeEventListener('keydown', key);
  }, [dispatch]);
  useEffect(() => {
    if (!large) return;
    const key = (e: KeyboardEvent) => {
      const isElsewhere = e.target instanceof HTMLElement && e.target.closest('input, [role=dialog], [role=menu]');
      if (e.key === 'Escape' && !isElsewhere) dispatch({ type: 'enlarge', tile: null });
    };
    window.addEventListener('keydown', key);
    window.scrollTo({ top: 0 });
    return () => window.removeEventListener('keydown', key);
  }, [large, dispatch]);
}
