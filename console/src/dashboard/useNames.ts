import { useEffect, useMemo, useRef, useState } from 'react';
import type { DashboardPage, TileInfo } from '../api/client';
import { keyOf, type Names, ofResult, type ToldNames, together, withNames } from '../model/names';
import type { TileState } from '../model/tileState';

/** The page with the names that its answers brought, and a way to tell it of more answers. */
export function useNames(page: DashboardPage): [DashboardPage, (more: Names) => void] {
  const [names, setNames] = useState<Names>({});
  const named = useMemo(() => withNames(page, names), [page, names]);
  return [named, (more) => setNames((known) => together(known, more))];
}

/** Tells a page of the names that stand in its answers and in how it opened. */
export function useLearned(
  tiles: TileInfo[],
  states: Record<string, TileState>,
  told: ToldNames[],
  learn: (more: Names) => void,
) {
  // What was read once is not read again with every frame.
  const read = useRef(new WeakSet<object>());
  // biome-ignore lint/correctness/useExhaustiveDependencies: learning changes the page, and with it only what it is called
  useEffect(() => {
    let more: Names = {};
    for (const tile of tiles) {
      const columns = states[tile.name]?.result?.table?.columns;
      if (columns && !read.current.has(columns)) more = together(more, ofResult(tile, states[tile.name]));
      if (columns) read.current.add(columns);
      for (const answer of told)
        for (const [field, names] of Object.entries(answer?.[tile.name] ?? {}))
          more = together(more, { [keyOf(tile, field)]: names as Record<string, string> });
    }
    learn(more);
  }, [states, told]);
}
