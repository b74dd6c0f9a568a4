import type { TileInfo, TileResult } from '../../api/client';
import { ofResult, together } from '../names';
import { asked, drawnAs, fieldsOf, hasPick, selectionLabels } from '../selections';
import type { TileState } from '../tileState';
import { wiringOf } from '../wiring';
import { fold } from './cells';
import type { Question } from './service';
import type { Given, PageState } from './state';

/** What a tile's figures depend on: while it stays the same, they need not be asked for again. */
export function keyOf(state: PageState, tile: TileInfo): string {
  const { tiles, named, filters } = wiringOf(state.page);
  const { applied } = state;
  return JSON.stringify([
    tile.basis,
    state.data,
    drawnAs(tile),
    // What a picked tile is of, and whether something must be picked on it, is said in its own definition.
    Object.entries(asked(applied)).flatMap(([name, selection]) => {
      const driver = named.get(name);
      const isOf = (driver !== undefined && filters(driver, tile)) || (name === tile.name && applied[name]?.path);
      return isOf ? [[name, driver?.basis, selection]] : [];
    }),
    tiles.flatMap((t) => (t.isRequired && filters(t, tile) ? [t.name] : [])),
  ]);
}

/** The tiles of the open tab whose figures are of another state than the present one, and are not being asked for; what waits is not. */
export const staleTiles = (state: PageState): TileInfo[] =>
  state.isReady ? state.shown.filter((t) => t.dataset && !t.waits && state.tiles[t.name]?.key !== keyOf(state, t)) : [];

/** Under what some tiles are asked for now. */
export const questionOf = (state: PageState, tiles: TileInfo[], isAnew = false): Question => ({
  tiles: tiles.map((t) => t.name),
  selections: state.applied,
  set: state.set,
  isAnew,
});

/** True for a tile that waits for the viewer to want its figures. */
export const isWaiting = (state: PageState, tile: TileInfo): boolean =>
  tile.waits &&
  state.tiles[tile.name]?.runningSince === undefined &&
  state.tiles[tile.name]?.key !== keyOf(state, tile);

/** The tiles that wait for an answer of the service. */
export const awaited = (state: Given): string[] =>
  Object.keys(state.tiles).filter((name) => state.tiles[name]?.runningSince !== undefined);

/** What the brush cells know is answered at once, without a question; the other tiles stay as they are. */
export function answeredByCells(state: PageState): Pick<Given, 'tiles' | 'names'> {
  let { tiles, names } = state;
  if (Object.keys(state.cells).length === 0) return { tiles, names };
  for (const tile of staleTiles(state)) {
    const before = state.tiles[tile.name];
    if (before?.result?.state !== 'ready' || before.of !== drawnAs(tile)) continue;
    const folded = fold(state, tile);
    if (!folded) continue;
    const answer: TileState = {
      key: keyOf(state, tile),
      isFolded: true,
      ...(state.live ? { isPassing: true } : {}),
      of: before.of,
      result: { ...before.result, ...folded, change: null, filters: filtersOf(before.result.filters, tile, state) },
    };
    // What was read once is not read again with every frame.
    if (answer.result?.table?.columns !== before.result.table?.columns) names = together(names, ofResult(tile, answer));
    tiles = { ...tiles, [tile.name]: answer };
  }
  return { tiles, names };
}

/** What filters a tile, in words, when the page has answered by itself. */
function filtersOf(before: TileResult['filters'], tile: TileInfo, state: PageState): TileResult['filters'] {
  const { named, filters } = wiringOf(state.page);
  const applied = Object.entries(state.applied).flatMap(([name, selection]) => {
    const driver = named.get(name);
    if (!driver || !filters(driver, tile) || !hasPick(selection)) return [];
    if (before?.notApplied.some((n) => n.tile === name)) return [];
    const fields = fieldsOf(driver, selection);
    return [
      {
        tile: name,
        tileTitle: driver.title,
        tab: before?.applied.find((a) => a.tile === name)?.tab ?? '',
        fields: fields.map((f) => f.title).join(' and '),
        members: selectionLabels(selection, fields),
        fieldNames:
          before?.applied.find((a) => a.tile === name)?.fieldNames ?? fields.map((f) => f.name.split('.')[0] ?? ''),
      },
    ];
  });
  return { applied, notApplied: before?.notApplied.filter((n) => n.tile !== tile.name) ?? [] };
}

/** Of each tile of the open tab what is picked on it and has no rows now; only where all of its members are known. */
export function pickedWithoutRows(
  shown: PageState['shown'],
  selections: PageState['selections'],
  tiles: PageState['tiles'],
): Record<string, Set<string>> {
  return Object.fromEntries(
    shown.flatMap((t) => {
      const picked = selections[t.name];
      const result = tiles[t.name]?.result;
      const table = result?.table;
      const rows = table?.values[0]?.length ?? 0;
      const isCut = (result?.lines ?? 0) > rows;
      if (picked && result?.absent && (t.isTop || isCut))
        return [[t.name, new Set(result.absent.map((m) => JSON.stringify(m)))]];
      if (!picked || !table || t.isTop || picked.members.length === 0 || isCut) return [];
      const groups = table.columns.flatMap((c, i) => (c.role === 'group' ? [i] : []));
      const there = new Set(
        Array.from({ length: rows }, (_, r) =>
          JSON.stringify(groups.slice(0, picked.members[0]?.length).map((g) => table.values[g]?.[r] ?? null)),
        ),
      );
      return [[t.name, new Set(picked.members.map((m) => JSON.stringify(m)).filter((m) => !there.has(m)))]];
    }),
  );
}
