import { useEffect, useState } from 'react';
import { lines, type TileInfo, type TileResult, zone } from '../api/client';
import { asked, drawnAs, type Selections } from '../model/selections';
import type { Shown, TileState } from '../model/tileState';

/** The figures under the state that was pinned as A, to stand beside those of the present one. */
export function useCompared(
  dashboard: string,
  tiles: TileInfo[],
  pinned: Selections | undefined,
  { version, all: set }: Shown,
) {
  const [states, setStates] = useState<Record<string, TileState>>({});
  // A new version of the dashboard has A read anew too, so it is one of the effect's reasons.
  useEffect(() => {
    setStates({});
    if (!pinned || !version) return;
    const control = new AbortController();
    void (async () => {
      const wanted = tiles.filter((t) => t.dataset).map((t) => t.name);
      const drawn = Object.fromEntries(tiles.map((t) => [t.name, drawnAs(t)]));
      const path = `/api/dashboards/${encodeURIComponent(dashboard)}/results`;
      try {
        const body = { tiles: wanted, selections: asked(pinned), inputs: { parameters: set, zone } };
        for await (const result of lines<TileResult>(path, body, control.signal))
          setStates((before) => ({ ...before, [result.tile]: { result, of: drawn[result.tile] } }));
      } catch (error) {
        if (control.signal.aborted) return;
        const failure = { detail: (error as Error).message, code: 'no-answer' };
        setStates(Object.fromEntries(wanted.map((n) => [n, { failure }])));
      }
    })();
    return () => control.abort();
  }, [dashboard, tiles, pinned, set, version]);
  return states;
}
