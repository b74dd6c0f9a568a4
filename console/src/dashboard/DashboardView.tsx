import { ActionIcon, Button } from '@mantine/core';
import { GitCompareArrows, LayoutGrid, RefreshCw, Waypoints } from 'lucide-react';
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { DashboardPage, TileInfo } from '../api/client';
import { useView } from '../arrange/useView';
import { Header } from '../session/Header';
import { TileFrame } from '../tiles/TileFrame';
import classes from './dashboard.module.css';
import { FilterBar } from './FilterBar';
import { knownSettings, readSettings, type Settings, writeSettings } from './parameters';
import { known, mayFilter, readSelections, type Selection, type Selections, writeSelections } from './selections';
import { Tabs } from './Tabs';
import { useBrush } from './useBrush';
import { useCompared } from './useCompared';
import { useNews } from './useNews';
import { type TileState, useResults } from './useResults';

const ArrangeBar = lazy(() => import('../arrange/ArrangeBar'));
const ArrangeGrid = lazy(() => import('../arrange/ArrangeGrid'));
const ExplainPanel = lazy(() => import('./ExplainPanel'));
const RowsPanel = lazy(() => import('./RowsPanel'));
const WiringPicture = lazy(() => import('./WiringPicture'));

/** A dashboard: its tabs, what is picked, and the tiles of the open tab. */
export function DashboardView({ page }: { page: DashboardPage }) {
  const [address, setAddress] = useSearchParams();
  const [arranging, setArranging] = useState(false);
  const [explained, setExplained] = useState<string>();
  const [listed, setListed] = useState<string>();
  const [isWired, setWired] = useState(false);
  // What is picked while the hand still moves: shown at once, kept when it lets go.
  const [live, setLive] = useState<Selections>();
  const view = useView(page.name);

  const tab = page.tabs.find((t) => t.name === address.get('tab')) ?? page.tabs[0];
  const pick = address.get('pick');
  const { selections: kept, dropped } = useMemo(() => known(readSelections(pick), page), [pick, page]);
  // The same state is the same object, whether it comes from the hand or from the address that followed it.
  const held = useRef<Selections>(kept);
  const next = live ?? kept;
  if (JSON.stringify(next) !== JSON.stringify(held.current)) held.current = next;
  const selections = held.current;
  const pin = address.get('a');
  const pinned = useMemo(() => (pin === null ? undefined : known(readSelections(pin), page).selections), [pin, page]);
  const all = useMemo(() => page.tabs.flatMap((t) => t.tiles), [page]);
  const tabOf = useMemo(() => {
    const tabs = new Map(page.tabs.flatMap((t) => t.tiles.map((x) => [x.name, t.name])));
    return (tile: string) => tabs.get(tile) ?? '';
  }, [page]);
  const tiles = useMemo(() => (tab?.tiles ?? []).filter((t) => !t.hidden), [tab]);
  const written = address.get('set');
  const set = useMemo(() => knownSettings(readSettings(written), page.parameters), [written, page.parameters]);
  const groups = useMemo(() => new Map(page.tabs.flatMap((t) => t.groups).map((g) => [g.name, g])), [page]);
  const filters = useCallback(
    (driver: TileInfo, follower: TileInfo) => mayFilter(driver, follower, tabOf, groups),
    [tabOf, groups],
  );
  const brush = useBrush(page.name, tiles, all, selections, String(page.version), set, filters);
  const results = useResults(page.name, tiles, selections, filters, all, String(page.version), set, brush);
  const compared = useCompared(page.name, tiles, pinned, String(page.version), set);
  const faults = useNews((datasets) =>
    results.refresh((t) => typeof t.datasetName === 'string' && datasets.includes(t.datasetName)),
  );

  useEffect(() => {
    document.title = `${page.title} · Weir`;
  }, [page.title]);

  const change = useCallback(
    (key: 'tab' | 'pick' | 'set' | 'a', value: string | null, replace = false) =>
      setAddress(
        (before) => {
          const next = new URLSearchParams(before);
          if (value === null) next.delete(key);
          else next.set(key, value);
          return next;
        },
        { replace },
      ),
    [setAddress],
  );
  const select = useCallback(
    (tile: string, selection: Selection | undefined, isLive = false) => {
      const { [tile]: _, ...others } = selections;
      const next = selection ? { ...others, [tile]: selection } : others;
      if (isLive) {
        setLive(next);
        return;
      }
      // At once, for the next key or click builds upon it; the address follows, and then it is the one that counts.
      setLive(next);
      change('pick', writeSelections(next));
    },
    [selections, change],
  );

  // biome-ignore lint/correctness/useExhaustiveDependencies: the address has caught up
  useEffect(() => setLive(undefined), [pick]);

  // One key lays the wiring over the page.
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const isTyping = e.target instanceof HTMLElement && e.target.closest('input, textarea, [contenteditable]');
      if (e.key === 'w' && !isTyping && !e.ctrlKey && !e.metaKey && !e.altKey) setWired((on) => !on);
    };
    window.addEventListener('keydown', key);
    return () => window.removeEventListener('keydown', key);
  }, []);

  const titleOf = (name: string) => all.find((t) => t.name === name)?.title ?? name;
  const leads = (tile: string) => Object.entries(brush.ready).filter(([lead]) => lead !== tile);

  // A failed tile of a picked selection may be the selection's own fault: the frame says so, and it can be cleared.
  // Frames are drawn anew only when what they show changes; what they call acts on the state as it is by then.
  const act = useRef({ select, results, view, brush });
  act.current = { select, results, view, brush };
  const otherTabs = useMemo(() => page.tabs.filter((t) => t.name !== tab?.name), [page, tab]);
  const nothing = useRef<TileState>({});
  const sides = useMemo(
    () =>
      pinned &&
      Object.fromEntries(tiles.map((t) => [t.name, { state: compared[t.name] ?? {}, selection: pinned[t.name] }])),
    [pinned, compared, tiles],
  );
  const frame = (tile: TileInfo) => (
    <TileFrame
      key={tile.name}
      tile={tile}
      dashboard={page.name}
      weekStarts={page.weekStarts}
      state={results.states[tile.name] ?? nothing.current}
      selection={selections[tile.name]}
      arranging={arranging}
      tabs={otherTabs}
      compared={sides?.[tile.name]}
      answers={brush.ready[tile.name]?.isWhole === true}
      onSelect={(selection, isLive) => act.current.select(tile.name, selection, isLive)}
      onApproach={() => act.current.brush.approach(tile)}
      onRows={() => setListed(tile.name)}
      onRetry={() => act.current.results.retry(tile.name)}
      onCancel={() => act.current.results.cancel()}
      onExplain={() => setExplained(tile.name)}
      onHide={() => act.current.view.edit({ edit: 'hide', tile: tile.name })}
      onMove={(to) => act.current.view.edit({ edit: 'move', tile: tile.name, tab: to })}
    />
  );

  return (
    <>
      <Header title={page.title} back>
        {!arranging && (
          <ActionIcon
            size={30}
            variant="default"
            aria-label="Read the data of this tab anew"
            title="Read the data of this tab anew"
            onClick={() => results.refresh(() => true)}
          >
            <RefreshCw size={14} aria-hidden />
          </ActionIcon>
        )}
        {!arranging && (
          <ActionIcon
            size={30}
            variant={pinned ? 'filled' : 'default'}
            aria-label="Compare: pin this state as A"
            title="Compare: pin this state as A"
            aria-pressed={pinned !== undefined}
            onClick={() => change('a', pinned ? null : (writeSelections(selections) ?? '{}'))}
          >
            <GitCompareArrows size={14} aria-hidden />
          </ActionIcon>
        )}
        {!arranging && (
          <ActionIcon
            size={30}
            variant={isWired ? 'filled' : 'default'}
            aria-label="Show the wiring (w)"
            title="Show the wiring (w)"
            aria-pressed={isWired}
            onClick={() => setWired(!isWired)}
          >
            <Waypoints size={14} aria-hidden />
          </ActionIcon>
        )}
        {!arranging && (
          <Button
            size="xs"
            variant="default"
            leftSection={<LayoutGrid size={14} aria-hidden />}
            onClick={() => setArranging(true)}
          >
            Arrange
          </Button>
        )}
      </Header>
      <Tabs
        page={page}
        open={tab?.name ?? ''}
        arranging={arranging}
        onOpen={(name) => change('tab', name)}
        view={view}
      />
      {arranging && (
        <Suspense>
          <ArrangeBar
            page={page}
            tab={tab}
            view={view}
            onDone={() => setArranging(false)}
            onOpen={(name) => change('tab', name, true)}
          />
        </Suspense>
      )}
      <FilterBar
        page={page}
        open={tab?.name ?? ''}
        selections={selections}
        dropped={dropped}
        onSelect={select}
        set={set}
        onSet={(next: Settings) => change('set', writeSettings(next))}
        onClear={() =>
          setAddress((before) => {
            const next = new URLSearchParams(before);
            next.delete('pick');
            next.delete('set');
            return next;
          })
        }
      />
      {results.check.isOn && (
        <div className={classes.versus} role="status" data-check>
          {results.check.differences.length === 0
            ? `Checked ${results.check.checked} answers of this page against the database: all are equal.`
            : `These tiles differ from what the database says: ${results.check.differences.map(titleOf).join(', ')}. Please tell the developer; Read anew shows the database’s answer.`}
          <Button size="compact-xs" variant="default" onClick={() => results.setChecking(false)}>
            Stop checking
          </Button>
        </div>
      )}
      {pinned && (
        <div className={classes.versus} role="status">
          <span>
            <b>A</b> is what was picked when you pinned it, <b>B</b> what is picked now. Both are drawn at equal scale.
          </span>
          <Button
            size="compact-xs"
            variant="default"
            onClick={() =>
              setAddress((before) => {
                const next = new URLSearchParams(before);
                next.delete('a');
                next.delete('pick');
                if (pin && pin !== '{}') next.set('pick', pin);
                return next;
              })
            }
          >
            Go on with A
          </Button>
          <Button size="compact-xs" variant="default" onClick={() => change('a', null)}>
            Go on with B
          </Button>
        </div>
      )}
      {faults.length > 0 && (
        <div role="status" className={classes.news}>
          <strong>The definitions are broken; the last good version is shown.</strong>
          {faults.slice(0, 3).map((f) => (
            <code key={f}>{f}</code>
          ))}
        </div>
      )}
      {view.problem && (
        <div role="alert" className={classes.news}>
          {view.problem}
        </div>
      )}
      {page.view.dropped.length > 0 && (
        <div role="status" className={classes.news}>
          <span>Some of your arrangement no longer fits this dashboard: {page.view.dropped.join(' ')}</span>
        </div>
      )}
      <main className={classes.page}>
        {isWired && !arranging && (
          <Suspense>
            <WiringPicture dashboard={page.name} tab={tab?.name ?? ''} onClose={() => setWired(false)} />
          </Suspense>
        )}
        {arranging && tab ? (
          <Suspense>
            <ArrangeGrid tab={tab} view={view} frame={frame} />
          </Suspense>
        ) : (
          <div className={classes.grid}>
            {(tab?.groups ?? []).map((g) => {
              const places = tiles.filter((t) => t.group === g.name).map((t) => t.place);
              if (places.length === 0) return null;
              const [left, top] = [Math.min(...places.map((p) => p.column)), Math.min(...places.map((p) => p.row))];
              const right = Math.max(...places.map((p) => p.column + p.width));
              const bottom = Math.max(...places.map((p) => p.row + p.height));
              return (
                <div
                  key={g.name}
                  className={classes.group}
                  style={
                    {
                      '--column': `${left + 1} / ${right + 1}`,
                      '--row': `${top + 1} / ${bottom + 1}`,
                    } as React.CSSProperties
                  }
                >
                  <span>{g.title}</span>
                </div>
              );
            })}
            {[...tiles]
              .sort((a, b) => a.place.row - b.place.row || a.place.column - b.place.column)
              .map((t) => (
                <div
                  key={t.name}
                  className={classes.cell}
                  style={
                    {
                      '--column': `${t.place.column + 1} / span ${t.place.width}`,
                      '--row': `${t.place.row + 1} / span ${t.place.height}`,
                      '--rows': t.place.height,
                    } as React.CSSProperties
                  }
                >
                  {frame(t)}
                </div>
              ))}
          </div>
        )}
        {tiles.length === 0 && (
          <p className={classes.none}>There is nothing on this tab. Use Arrange to move tiles here.</p>
        )}
        {page.withheld > 0 && (
          <p className={classes.none}>
            {page.withheld === 1 ? 'One tile of this dashboard is' : `${page.withheld} tiles of this dashboard are`} not
            shown: your roles do not grant what {page.withheld === 1 ? 'it needs' : 'they need'}.
          </p>
        )}
      </main>
      {listed && (
        <Suspense>
          <RowsPanel
            dashboard={page.name}
            tile={all.find((t) => t.name === listed) as TileInfo}
            selections={selections}
            set={set}
            onClose={() => setListed(undefined)}
          />
        </Suspense>
      )}
      {explained && (
        <Suspense>
          <ExplainPanel
            dashboard={page.name}
            tile={explained}
            selections={selections}
            set={set}
            answered={leads(explained).flatMap(([lead, r]) => (r.answered.includes(explained) ? [titleOf(lead)] : []))}
            asks={Object.fromEntries(
              leads(explained).flatMap(([lead, r]) => (r.asks[explained] ? [[titleOf(lead), r.asks[explained]]] : [])),
            )}
            check={results.check}
            onCheck={results.setChecking}
            onClose={() => setExplained(undefined)}
            onSelect={select}
          />
        </Suspense>
      )}
    </>
  );
}
