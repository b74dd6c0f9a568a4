import { useCallback, useEffect, useRef, useState } from 'react';
import { lines, Refused, type TileInfo, type TileResult, zone } from '../api/client';
import type { Settings } from '../model/parameters';
import { asked as askedForm, drawnAs, fieldsOf, hasPick, type Selections, selectionLabels } from '../model/selections';
import { type Check, type Shown, sameTable, type TileState } from '../model/tileState';
import type { Brush } from './useBrush';

/** Bursts of clicks ask once. */
const pause = 150;

/**
 * Asks for the figures of the tiles on the page, and asks again for those that a changed selection may filter.
 * A newer question cancels the older one, down to the database.
 */
export function useResults(
  dashboard: string,
  tiles: TileInfo[],
  selections: Selections,
  mayFilter: (driver: TileInfo, follower: TileInfo) => boolean,
  all: TileInfo[],
  { version, all: set, data }: Shown,
  brush: Brush,
) {
  const [check, setCheck] = useState<Check>({ isOn: false, checked: 0, differences: [] });
  const [states, setStates] = useState<Record<string, TileState>>({});
  const shown = useRef(states);
  shown.current = states;
  const asked = useRef<Record<string, string>>({});
  const running = useRef<AbortController>(undefined);
  const pending = useRef(new Set<string>());
  const allRef = useRef(all);
  allRef.current = all;

  const ask = useCallback(
    async (names: string[], body: Selections, inputs: Settings, refresh = false) => {
      running.current?.abort();
      const control = new AbortController();
      running.current = control;
      // What an aborted question still owed is asked again with this one.
      for (const name of names) pending.current.add(name);
      const wanted = [...pending.current];
      const since = performance.now();
      const keys = Object.fromEntries(wanted.map((n) => [n, asked.current[n]]));
      const drawn = Object.fromEntries(allRef.current.map((t) => [t.name, drawnAs(t)]));
      setStates((before) => ({
        ...before,
        ...Object.fromEntries(wanted.map((n) => [n, { ...before[n], runningSince: since }])),
      }));
      try {
        const path = `/api/dashboards/${encodeURIComponent(dashboard)}/results`;
        for await (const result of lines<TileResult>(
          path,
          { tiles: wanted, selections: askedForm(body), inputs: { parameters: inputs, zone }, refresh },
          control.signal,
        )) {
          if (control.signal.aborted) return; // lines of an older answer that were on their way
          pending.current.delete(result.tile);
          if (asked.current[result.tile] !== keys[result.tile]) continue; // answered by the page meanwhile, for a newer state
          setStates((before) => ({ ...before, [result.tile]: { result, of: drawn[result.tile] } }));
        }
      } catch (error) {
        if (control.signal.aborted) return;
        const failure =
          error instanceof Refused
            ? { detail: error.message, code: error.code, remedy: error.remedy }
            : {
                detail: 'The service can’t be reached.',
                code: 'no-answer',
                remedy: 'It is asked again when you retry.',
              };
        const failed = [...pending.current];
        pending.current.clear();
        setStates((before) => ({
          ...before,
          ...Object.fromEntries(failed.map((n) => [n, { result: before[n]?.result, of: before[n]?.of, failure }])),
        }));
      }
    },
    [dashboard],
  );

  useEffect(() => {
    const named = new Map(all.map((t) => [t.name, t]));
    const keyOf = (tile: TileInfo) =>
      JSON.stringify([
        version,
        data,
        drawnAs(tile),
        Object.entries(askedForm(selections)).filter(([name]) => {
          const driver = named.get(name);
          return (driver !== undefined && mayFilter(driver, tile)) || (name === tile.name && selections[name]?.path);
        }),
      ]);
    let changed = tiles.filter((t) => t.dataset && asked.current[t.name] !== keyOf(t));
    if (changed.length === 0) return;
    // What the brush index knows is answered at once, without a question; the others are asked for as ever.
    const answered: Record<string, TileState> = {};
    for (const tile of changed) {
      const before = shown.current[tile.name]?.result;
      const folded =
        before?.state === 'ready' && shown.current[tile.name]?.of === drawnAs(tile)
          ? brush.answer(tile, selections)
          : undefined;
      if (!folded || !before) continue;
      asked.current[tile.name] = keyOf(tile);
      pending.current.delete(tile.name);
      answered[tile.name] = {
        isFolded: true,
        of: drawnAs(tile),
        result: {
          ...before,
          ...folded,
          change: null,
          filters: filtersOf(before.filters, tile, selections, named, mayFilter),
        } as TileResult,
      };
    }
    if (Object.keys(answered).length > 0) setStates((before) => ({ ...before, ...answered }));
    changed = changed.filter((t) => !(t.name in answered));
    if (changed.length === 0) return;
    const isFirst = changed.some((t) => asked.current[t.name] === undefined);
    const timer = setTimeout(
      () => {
        for (const tile of changed) asked.current[tile.name] = keyOf(tile);
        void ask(
          changed.map((t) => t.name),
          selections,
          set,
        );
      },
      isFirst ? 0 : pause,
    );
    return () => clearTimeout(timer);
  }, [tiles, all, selections, mayFilter, version, set, data, ask, brush.answer]);

  useEffect(() => () => running.current?.abort(), []);

  const retry = useCallback((tile: string) => void ask([tile], selections, set), [ask, selections, set]);
  const refresh = useCallback(
    (wanted: (tile: TileInfo) => boolean) => {
      const names = tiles.filter((t) => t.dataset && wanted(t)).map((t) => t.name);
      brush.forget();
      if (names.length > 0) void ask(names, selections, set, true);
    },
    [ask, tiles, selections, set, brush.forget],
  );

  // Tiles that the developer wants kept current, while the page is seen and their tab is open.
  useEffect(() => {
    const rhythms = [...new Set(tiles.flatMap((t) => (t.refreshSeconds ? [t.refreshSeconds] : [])))];
    const timers = rhythms.map((seconds) =>
      setInterval(() => {
        if (!document.hidden) refresh((t) => t.refreshSeconds === seconds);
      }, seconds * 1000),
    );
    return () => timers.forEach(clearInterval);
  }, [tiles, refresh]);

  const cancel = useCallback(() => {
    running.current?.abort();
    const stopped = [...pending.current];
    pending.current.clear();
    const failure = { detail: 'You stopped this question.', code: 'stopped', remedy: undefined };
    setStates((before) => ({
      ...before,
      ...Object.fromEntries(stopped.map((n) => [n, { result: before[n]?.result, of: before[n]?.of, failure }])),
    }));
  }, []);

  // The sampled check: once the hand rests, what the page worked out is asked of the service and compared.
  useEffect(() => {
    const folded = tiles.filter((t) => states[t.name]?.isFolded);
    if (!check.isOn || folded.length === 0) return;
    const control = new AbortController();
    const compare = async () => {
      const path = `/api/dashboards/${encodeURIComponent(dashboard)}/results`;
      const body = {
        tiles: folded.map((t) => t.name),
        selections: askedForm(selections),
        inputs: { parameters: set, zone },
      };
      const differences: string[] = [];
      let checked = 0;
      for await (const result of lines<TileResult>(path, body, control.signal)) {
        checked++;
        const mine = shown.current[result.tile]?.result;
        if (mine && !sameTable(mine, result)) differences.push(result.tile);
      }
      setCheck((c) => ({
        isOn: c.isOn,
        checked: c.checked + checked,
        differences: [...c.differences, ...differences],
      }));
      setStates((before) => ({
        ...before,
        ...Object.fromEntries(folded.map((t) => [t.name, { ...before[t.name], isFolded: false }])),
      }));
    };
    const timer = setTimeout(
      () =>
        compare().catch((error: Error) => {
          if (!control.signal.aborted) setCheck((c) => ({ ...c, problem: error.message }));
        }),
      400,
    );
    return () => {
      clearTimeout(timer);
      control.abort();
    };
  }, [check.isOn, tiles, states, selections, set, dashboard]);
  const setChecking = useCallback((isOn: boolean) => setCheck({ isOn, checked: 0, differences: [] }), []);
  return { states, retry, cancel, refresh, check, setChecking };
}

/** What filters a tile, in words, when the page has answered by itself. */
function filtersOf(
  before: TileResult['filters'],
  tile: TileInfo,
  selections: Selections,
  named: Map<string, TileInfo>,
  mayFilter: (driver: TileInfo, follower: TileInfo) => boolean,
): TileResult['filters'] {
  const applied = Object.entries(selections).flatMap(([name, selection]) => {
    const driver = named.get(name);
    if (!driver || !mayFilter(driver, tile) || !hasPick(selection)) return [];
    if (before?.notApplied.some((n) => n.tile === name)) return [];
    const fields = fieldsOf(driver, selection);
    return [
      {
        tile: name,
        tileTitle: driver.title,
        tab: before?.applied.find((a) => a.tile === name)?.tab ?? '',
        fields: fields.map((f) => f.title).join(' and '),
        members: selectionLabels(selection, fields),
      },
    ];
  });
  return { applied, notApplied: before?.notApplied.filter((n) => n.tile !== tile.name) ?? [] };
}
