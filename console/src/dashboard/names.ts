import { useEffect, useMemo, useRef, useState } from 'react';
import type { DashboardPage, FieldInfo, Schemas, TileInfo } from '../api/client';
import type { TileState } from './useResults';

/** The names of codes and keys as far as the page has been told them: by dataset and field, by the values as text. */
export type Names = Record<string, Record<string, string>>;

/** What an answer to how a dashboard opens tells of names: by tile and field. */
export type ToldNames = Schemas['OpeningAnswer']['names'];

const keyOf = (tile: TileInfo, field: string) => `${tile.datasetName}.${field}`;

/** The names as they are together; the same object if nothing is new. */
export function together(known: Names, more: Names): Names {
  const isNew = Object.entries(more).some(([key, names]) =>
    Object.entries(names).some(([value, name]) => known[key]?.[value] !== name),
  );
  if (!isNew) return known;
  const result = { ...known };
  for (const [key, names] of Object.entries(more)) result[key] = { ...result[key], ...names };
  return result;
}

/** The page with names at the fields of its tiles, so that what is picked can be written in words. */
export function withNames(page: DashboardPage, names: Names): DashboardPage {
  if (Object.keys(names).length === 0) return page;
  const field = (tile: TileInfo, f: FieldInfo): FieldInfo => {
    const known = names[keyOf(tile, f.name)];
    return known ? { ...f, names: { ...f.names, ...known } } : f;
  };
  const named = (t: TileInfo): TileInfo => ({
    ...t,
    by: t.by.map((f) => field(t, f)),
    levels: t.levels.map((f) => field(t, f)),
  });
  return { ...page, tabs: page.tabs.map((tab) => ({ ...tab, tiles: tab.tiles.map(named) })) };
}

/** Names as they came with the columns of a tile's answer. */
const ofResult = (tile: TileInfo, state: TileState | undefined): Names =>
  Object.fromEntries(
    (state?.result?.table?.columns ?? []).flatMap((c) =>
      c.role === 'group' && c.names ? [[keyOf(tile, c.name), c.names]] : [],
    ),
  );

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
