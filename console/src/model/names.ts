import type { DashboardPage, FieldInfo, Schemas, TileInfo } from '../api/client';
import type { TileState } from './tileState';

/** The names of codes and keys as far as the page has been told them: by dataset and field, by the values as text. */
export type Names = Record<string, Record<string, string>>;

/** What an answer to how a dashboard opens tells of names: by tile and field. */
export type ToldNames = Schemas['OpeningAnswer']['names'];

/** Under what the names of a field are known. */
export const keyOf = (tile: TileInfo, field: string) => `${tile.datasetName}.${field}`;

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
export const ofResult = (tile: TileInfo, state: TileState | undefined): Names =>
  Object.fromEntries(
    (state?.result?.table?.columns ?? []).flatMap((c) =>
      c.role === 'group' && c.names ? [[keyOf(tile, c.name), c.names]] : [],
    ),
  );
