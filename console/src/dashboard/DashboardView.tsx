import { ActionIcon, Button } from '@mantine/core';
import { LayoutGrid, RefreshCw } from 'lucide-react';
import { lazy, Suspense, useCallback, useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { DashboardPage, TileInfo } from '../api/client';
import { useView } from '../arrange/useView';
import { Header } from '../session/Header';
import { TileFrame } from '../tiles/TileFrame';
import classes from './dashboard.module.css';
import { FilterBar } from './FilterBar';
import { knownSettings, readSettings, type Settings, writeSettings } from './parameters';
import { known, readSelections, type Selection, writeSelections } from './selections';
import { Tabs } from './Tabs';
import { useNews } from './useNews';
import { useResults } from './useResults';

const ArrangeBar = lazy(() => import('../arrange/ArrangeBar'));
const ArrangeGrid = lazy(() => import('../arrange/ArrangeGrid'));
const ExplainPanel = lazy(() => import('./ExplainPanel'));

/** A dashboard: its tabs, what is picked, and the tiles of the open tab. */
export function DashboardView({ page }: { page: DashboardPage }) {
  const [address, setAddress] = useSearchParams();
  const [arranging, setArranging] = useState(false);
  const [explained, setExplained] = useState<string>();
  const view = useView(page.name);

  const tab = page.tabs.find((t) => t.name === address.get('tab')) ?? page.tabs[0];
  const pick = address.get('pick');
  const { selections, dropped } = useMemo(() => known(readSelections(pick), page), [pick, page]);
  const all = useMemo(() => page.tabs.flatMap((t) => t.tiles), [page]);
  const tabOf = useMemo(() => {
    const tabs = new Map(page.tabs.flatMap((t) => t.tiles.map((x) => [x.name, t.name])));
    return (tile: string) => tabs.get(tile) ?? '';
  }, [page]);
  const tiles = useMemo(() => (tab?.tiles ?? []).filter((t) => !t.hidden), [tab]);
  const written = address.get('set');
  const set = useMemo(() => knownSettings(readSettings(written), page.parameters), [written, page.parameters]);
  const results = useResults(page.name, tiles, selections, tabOf, all, String(page.version), set);
  const faults = useNews((datasets) =>
    results.refresh((t) => typeof t.datasetName === 'string' && datasets.includes(t.datasetName)),
  );

  useEffect(() => {
    document.title = `${page.title} · Weir`;
  }, [page.title]);

  const change = useCallback(
    (key: 'tab' | 'pick' | 'set', value: string | null, replace = false) =>
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
    (tile: string, selection: Selection | undefined) => {
      const { [tile]: _, ...others } = selections;
      change('pick', writeSelections(selection ? { ...others, [tile]: selection } : others));
    },
    [selections, change],
  );

  // A failed tile of a picked selection may be the selection's own fault: the frame says so, and it can be cleared.
  const frame = (tile: TileInfo) => (
    <TileFrame
      key={tile.name}
      tile={tile}
      dashboard={page.name}
      weekStarts={page.weekStarts}
      state={results.states[tile.name] ?? {}}
      selection={selections[tile.name]}
      arranging={arranging}
      tabs={page.tabs.filter((t) => t.name !== tab?.name)}
      onSelect={(selection) => select(tile.name, selection)}
      onRetry={() => results.retry(tile.name)}
      onCancel={results.cancel}
      onExplain={() => setExplained(tile.name)}
      onHide={() => view.edit({ edit: 'hide', tile: tile.name })}
      onMove={(to) => view.edit({ edit: 'move', tile: tile.name, tab: to })}
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
      <main>
        {arranging && tab ? (
          <Suspense>
            <ArrangeGrid tab={tab} view={view} frame={frame} />
          </Suspense>
        ) : (
          <div className={classes.grid}>
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
      {explained && (
        <Suspense>
          <ExplainPanel
            dashboard={page.name}
            tile={explained}
            selections={selections}
            set={set}
            onClose={() => setExplained(undefined)}
            onSelect={select}
          />
        </Suspense>
      )}
    </>
  );
}
