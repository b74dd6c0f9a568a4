import { useCallback, useEffect, useRef, useState } from 'react';
import { lines, Refused, type TileInfo, type TileResult } from '../api/client';
import type { Settings } from './parameters';
import { mayFilter, type Selections } from './selections';

/** What is known of a tile: its last result, and whether a newer one is on the way. */
export interface TileState {
  result?: TileResult;
  /** When the running question was asked, in milliseconds of the page's clock. */
  runningSince?: number;
  /** Why there is no answer at all. */
  failure?: { detail: string; code: string; remedy?: string };
}

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
  tabOf: (tile: string) => string,
  all: TileInfo[],
  version: string,
  set: Settings,
) {
  const [states, setStates] = useState<Record<string, TileState>>({});
  const asked = useRef<Record<string, string>>({});
  const running = useRef<AbortController>(undefined);
  const pending = useRef(new Set<string>());

  const ask = useCallback(
    async (names: string[], body: Selections, inputs: Settings, refresh = false) => {
      running.current?.abort();
      const control = new AbortController();
      running.current = control;
      // What an aborted question still owed is asked again with this one.
      for (const name of names) pending.current.add(name);
      const wanted = [...pending.current];
      const since = performance.now();
      setStates((before) => ({
        ...before,
        ...Object.fromEntries(wanted.map((n) => [n, { ...before[n], runningSince: since }])),
      }));
      try {
        const path = `/api/dashboards/${encodeURIComponent(dashboard)}/results`;
        for await (const result of lines<TileResult>(
          path,
          { tiles: wanted, selections: body, inputs: { parameters: inputs }, refresh },
          control.signal,
        )) {
          if (control.signal.aborted) return; // lines of an older answer that were on their way
          pending.current.delete(result.tile);
          setStates((before) => ({ ...before, [result.tile]: { result } }));
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
          ...Object.fromEntries(failed.map((n) => [n, { result: before[n]?.result, failure }])),
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
        set,
        Object.entries(selections).filter(([name]) => {
          const driver = named.get(name);
          return driver !== undefined && mayFilter(driver, tile, tabOf);
        }),
      ]);
    const changed = tiles.filter((t) => t.dataset && asked.current[t.name] !== keyOf(t));
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
  }, [tiles, all, selections, tabOf, version, set, ask]);

  useEffect(() => () => running.current?.abort(), []);

  const retry = useCallback((tile: string) => void ask([tile], selections, set), [ask, selections, set]);
  const refresh = useCallback(
    (wanted: (tile: TileInfo) => boolean) => {
      const names = tiles.filter((t) => t.dataset && wanted(t)).map((t) => t.name);
      if (names.length > 0) void ask(names, selections, set, true);
    },
    [ask, tiles, selections, set],
  );

  // Tiles that the developer wants kept current, while the page is seen and their tab is open.
  useEffect(() => {
    const rhythms = [...new Set(tiles.flatMap((t) => (t.refreshSeconds ? [Number(t.refreshSeconds)] : [])))];
    const timers = rhythms.map((seconds) =>
      setInterval(() => {
        if (!document.hidden) refresh((t) => Number(t.refreshSeconds) === seconds);
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
      ...Object.fromEntries(stopped.map((n) => [n, { result: before[n]?.result, failure }])),
    }));
  }, []);
  return { states, retry, cancel, refresh };
}
