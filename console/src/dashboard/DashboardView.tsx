import { Button } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { DashboardPage, TileInfo } from '../api/client';
import { useView } from '../arrange/useView';
import { findMembers } from '../model/members';
import type { Kept } from '../model/opening';
import { effectiveSettings, knownSettings, readSettings, type Settings, writeSettings } from '../model/parameters';
import { asked, fitting, hasPick, mayFilter, type Selection } from '../model/selections';
import type { TileState } from '../model/tileState';
import { pictureOf } from '../pictures';
import { Header } from '../session/Header';
import { TileFrame } from '../tiles/TileFrame';
import classes from './dashboard.module.css';
import { FilterBar } from './FilterBar';
import { HeaderActions } from './HeaderActions';
import { pageQuery, presentOf } from './pageQuery';
import { SidePanel } from './SidePanel';
import { Tabs } from './Tabs';
import { useBrush } from './useBrush';
import { useCompared } from './useCompared';
import { useLearned, useNames } from './useNames';
import { useNews } from './useNews';
import { useResults } from './useResults';
import { type ChangeAddress, useSelections } from './useSelections';

const ArrangeBar = lazy(() => import('../arrange/ArrangeBar'));
const ArrangeGrid = lazy(() => import('../arrange/ArrangeGrid'));
const ExplainPanel = lazy(() => import('./ExplainPanel'));
const RowsPanel = lazy(() => import('./RowsPanel'));
const WiringPicture = lazy(() => import('./WiringPicture'));

/** A dashboard: its tabs, what is picked, and the tiles of the open tab. */
export function DashboardView({
  page: published,
  kept,
  problem: keptProblem,
}: {
  page: DashboardPage;
  kept?: Kept;
  problem?: string;
}) {
  const [page, learn] = useNames(published);
  const [address, setAddress] = useSearchParams();
  const [arranging, setArranging] = useState(false);
  const [explained, setExplained] = useState<string>();
  const [listed, setListed] = useState<string>();
  const [isWired, setWired] = useState(false);
  const queries = useQueryClient();
  const tab = page.tabs.find((t) => t.name === address.get('tab')) ?? page.tabs[0];
  const written = address.get('set') ?? kept?.set ?? null;
  const present = presentOf(written, page);
  const view = useView(page.name, present);
  // How tiles are drawn comes from the page as it was fetched; it may be a moment behind the address.
  const set = useMemo(() => effectiveSettings(readSettings(written), page.parameters), [written, page.parameters]);

  const change = useCallback<ChangeAddress>(
    (parts, replace = false) =>
      setAddress(
        (before) => {
          const next = new URLSearchParams(before);
          for (const [key, value] of Object.entries(parts))
            if (value === null || value === undefined) next.delete(key);
            else next.set(key, value);
          return next;
        },
        { replace },
      ),
    [setAddress],
  );
  const picked = useSelections(page, address, set, change, kept);
  const { selections, applied, pinned } = picked;
  const all = useMemo(() => page.tabs.flatMap((t) => t.tiles), [page]);
  const tabOf = useMemo(() => {
    const tabs = new Map(page.tabs.flatMap((t) => t.tiles.map((x) => [x.name, t.name])));
    return (tile: string) => tabs.get(tile) ?? '';
  }, [page]);
  const tiles = useMemo(() => (tab?.tiles ?? []).filter((t) => !t.hidden), [tab]);
  // What draws them comes beside their figures. What does not come is told where it is to be drawn.
  useEffect(() => {
    for (const t of tiles)
      pictureOf(t)
        .load()
        .catch(() => undefined);
  }, [tiles]);
  const asking = useMemo(() => (picked.isReady ? tiles : []), [picked.isReady, tiles]);
  const groups = useMemo(() => new Map(page.tabs.flatMap((t) => t.groups).map((g) => [g.name, g])), [page]);
  const filters = useCallback(
    (driver: TileInfo, follower: TileInfo) => mayFilter(driver, follower, tabOf, groups),
    [tabOf, groups],
  );
  const shown = useMemo(
    () => ({
      version: String(published.version),
      all: set,
      data: knownSettings(
        set,
        published.parameters.filter((p) => !p.presents),
      ),
    }),
    [published, set],
  );
  const brush = useBrush(page.name, tiles, all, applied, shown, filters);
  const results = useResults(page.name, asking, applied, filters, all, shown, brush);
  useLearned(all, results.states, picked.names, learn);
  const compared = useCompared(page.name, asking, pinned, shown);
  const faults = useNews((datasets) =>
    results.refresh((t) => typeof t.datasetName === 'string' && datasets.includes(t.datasetName)),
  );

  useEffect(() => {
    document.title = `${page.title} · Weir`;
  }, [page.title]);

  // Parameters whose drawing of the page is on its way; what is set next builds on them.
  const [coming, setComing] = useState<{ set: string | null }>();
  const latest = useRef(coming);
  const [problem, setProblem] = useState<string>();
  /** Sets parameters. Where they change how tiles are drawn, the page comes first, and picks that no longer fit it go. */
  const setParameters = async (next: Settings) => {
    const said = writeSettings(next);
    // What the dashboard opens with needs no word in the address.
    const text = kept?.set ? (said === kept.set ? null : (said ?? '{}')) : said;
    const wanted = presentOf(said, page);
    if (wanted === present && !coming) {
      if (page.appliesOnButton) picked.hold(text);
      else change({ set: text });
      return;
    }
    const mine = { set: text };
    latest.current = mine;
    setComing(mine);
    setProblem(undefined);
    try {
      const drawn = await queries.fetchQuery(pageQuery(page.name, wanted));
      if (latest.current !== mine) return;
      const now = act.current;
      const left = fitting(now.picked.selections, page, drawn);
      now.change({ set: text, ...(left === now.picked.selections ? {} : { pick: now.picked.write(left) }) });
    } catch (error) {
      setProblem(`The page could not be drawn as chosen: ${(error as Error).message}`);
    } finally {
      if (latest.current === mine) setComing(undefined);
    }
  };

  /** Has the dashboard open for this viewer as it is now, or, without a word, as its developer has it open. */
  const keep = (asNow: boolean) =>
    void view.edit(
      asNow
        ? { edit: 'keep-picks', selections: asked(selections), parameters: set }
        : { edit: 'keep-picks', selections: null, parameters: null },
    );

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
  const driving = (tile: string) => Object.entries(brush.ready).filter(([driver]) => driver !== tile);

  // A failed tile of a picked selection may be the selection's own fault: the frame says so, and it can be cleared.
  // Frames are drawn anew only when what they show changes; what they call acts on the state as it is by then.
  const act = useRef({ picked, results, view, brush, set, change });
  act.current = { picked, results, view, brush, set, change };
  const otherTabs = useMemo(() => page.tabs.filter((t) => t.name !== tab?.name), [page, tab]);
  const nothing = useRef<TileState>({});
  const sides = useMemo(
    () =>
      pinned &&
      Object.fromEntries(tiles.map((t) => [t.name, { state: compared[t.name] ?? {}, selection: pinned[t.name] }])),
    [pinned, compared, tiles],
  );
  const large = arranging ? undefined : tiles.find((t) => t.name === address.get('large') && !t.isInPanel)?.name;
  useEffect(() => {
    if (!large) return;
    const key = (e: KeyboardEvent) => {
      const isElsewhere = e.target instanceof HTMLElement && e.target.closest('input, [role=dialog], [role=menu]');
      if (e.key === 'Escape' && !isElsewhere) act.current.change({ large: null });
    };
    window.addEventListener('keydown', key);
    window.scrollTo({ top: 0 });
    return () => window.removeEventListener('keydown', key);
  }, [large]);
  const inPanel = tiles.filter((t) => t.isInPanel);
  const gone = useMemo(() => goneFrom(tiles, selections, results.states), [tiles, selections, results.states]);
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
      onSelect={(selection, isLive) => act.current.picked.select(tile.name, selection, isLive)}
      onApproach={() => !page.appliesOnButton && act.current.brush.approach(tile)}
      onFind={(piece, signal) =>
        findMembers(page.name, tile.name, piece, act.current.picked.applied, act.current.set, signal)
      }
      onRows={() => setListed(tile.name)}
      onRetry={() => act.current.results.retry(tile.name)}
      onCancel={() => act.current.results.cancel()}
      onExplain={() => setExplained(tile.name)}
      large={large === tile.name}
      onEnlarge={() => act.current.change({ large: large === tile.name ? null : tile.name })}
      onHide={() => act.current.view.edit({ edit: 'hide', tile: tile.name })}
      onMove={(to) => act.current.view.edit({ edit: 'move', tile: tile.name, tab: to })}
    />
  );

  return (
    <>
      <Header title={page.title} back>
        {!arranging && (
          <HeaderActions
            isPinned={pinned !== undefined}
            isWired={isWired}
            onRefresh={() => act.current.results.refresh(() => true)}
            onPin={() => {
              const { pinned: isPinned, applied: now } = act.current.picked;
              act.current.change({ a: isPinned ? null : JSON.stringify(now) });
            }}
            onWire={() => setWired((on) => !on)}
            onArrange={() => setArranging(true)}
          />
        )}
      </Header>
      <Tabs
        page={page}
        open={tab?.name ?? ''}
        arranging={arranging}
        onOpen={(name) => change({ tab: name })}
        view={view}
      />
      {arranging && (
        <Suspense>
          <ArrangeBar
            page={page}
            tab={tab}
            view={view}
            onDone={() => setArranging(false)}
            onOpen={(name) => change({ tab: name }, true)}
          />
        </Suspense>
      )}
      <FilterBar
        page={page}
        open={tab?.name ?? ''}
        picked={picked}
        set={knownSettings(readSettings(coming ? coming.set : picked.set), page.parameters)}
        gone={gone}
        onSet={(next) => void setParameters(next)}
        onClear={() => change({ pick: null, set: null })}
        onKeep={keep}
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
          <Button size="compact-xs" variant="default" onClick={() => change({ a: null, pick: picked.write(pinned) })}>
            Go on with A
          </Button>
          <Button size="compact-xs" variant="default" onClick={() => change({ a: null })}>
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
      {picked.problem && (
        <div role="alert" className={classes.news}>
          <span>
            What this dashboard opens with could not be read, so nothing is picked: {picked.problem}{' '}
            <Button size="compact-xs" variant="default" onClick={picked.retry}>
              Try again
            </Button>
          </span>
        </div>
      )}
      {[view.problem, problem, keptProblem && `What you keep could not be read: ${keptProblem}`].map(
        (text) =>
          text && (
            <div key={text} role="alert" className={classes.news}>
              {text}
            </div>
          ),
      )}
      {page.view.dropped.length > 0 && (
        <div role="status" className={classes.news}>
          <span>Some of your arrangement no longer fits this dashboard: {page.view.dropped.join(' ')}</span>
        </div>
      )}
      <main className={classes.page}>
        {isWired && !arranging && (
          <Suspense>
            <WiringPicture dashboard={page.name} set={present} tab={tab?.name ?? ''} onClose={() => setWired(false)} />
          </Suspense>
        )}
        <div className={classes.withPanel}>
          {inPanel.length > 0 && tab && (
            <SidePanel
              name={`${page.name}-${tab.name}`}
              tiles={inPanel}
              picked={inPanel.filter((t) => hasPick(selections[t.name])).length}
              frame={frame}
            />
          )}
          {arranging && tab ? (
            <Suspense>
              <ArrangeGrid tab={tab} view={view} frame={frame} />
            </Suspense>
          ) : (
            <div className={classes.grid} data-large={large !== undefined}>
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
              {tiles
                .filter((t) => !t.isInPanel)
                .sort((a, b) => a.place.row - b.place.row || a.place.column - b.place.column)
                .map((t) => (
                  <div
                    key={t.name}
                    className={classes.cell}
                    data-large={large === t.name}
                    data-kind={t.picture}
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
        </div>
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
            selections={applied}
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
            selections={applied}
            set={set}
            took={results.states[explained]?.isFolded ? undefined : results.states[explained]?.result?.milliseconds}
            answered={driving(explained).flatMap(([driver, r]) =>
              r.answered.includes(explained) ? [titleOf(driver)] : [],
            )}
            asks={Object.fromEntries(
              driving(explained).flatMap(([driver, r]) =>
                r.asks[explained] ? [[titleOf(driver), r.asks[explained]]] : [],
              ),
            )}
            check={results.check}
            onCheck={results.setChecking}
            onClose={() => setExplained(undefined)}
            onSelect={picked.select}
          />
        </Suspense>
      )}
    </>
  );
}

/** Of each tile what is picked on it and has no rows now; only where all of its members are known. */
function goneFrom(
  tiles: TileInfo[],
  selections: Record<string, Selection>,
  states: Record<string, TileState>,
): Record<string, Set<string>> {
  return Object.fromEntries(
    tiles.flatMap((t) => {
      const picked = selections[t.name];
      const table = states[t.name]?.result?.table;
      const { absent } = states[t.name]?.result ?? {};
      if (picked && absent && (t.isTop || (states[t.name]?.result?.lines ?? 0) > (table?.values[0]?.length ?? 0)))
        return [[t.name, new Set(absent.map((m) => JSON.stringify(m)))]];
      const groups = (table?.columns ?? []).flatMap((c, i) => (c.role === 'group' ? [i] : []));
      const rows = table?.values[0]?.length ?? 0;
      if (!picked || !table || t.isTop || picked.members.length === 0 || (states[t.name]?.result?.lines ?? 0) > rows)
        return [];
      const there = new Set(
        Array.from({ length: rows }, (_, r) =>
          JSON.stringify(groups.slice(0, picked.members[0]?.length).map((g) => table.values[g]?.[r] ?? null)),
        ),
      );
      return [[t.name, new Set(picked.members.map((m) => JSON.stringify(m)).filter((m) => !there.has(m)))]];
    }),
  );
}
