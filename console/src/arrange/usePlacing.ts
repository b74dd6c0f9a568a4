import { useEffect, useMemo, useRef, useState } from 'react';
import type { LayoutItem } from 'react-grid-layout';
import type { TabInfo, TileInfo } from '../api/client';
import { usePage, usePageStore } from '../dashboard/usePage';
import { under } from './hand';
import { ownName } from './ownName';

type Place = TileInfo['place'];

/** How many columns a tab has. */
export const columns = 12;

const steps: Record<string, [number, number] | undefined> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

const between = (least: number, most: number, v: number) => Math.min(most, Math.max(least, v));

/** Where a key puts a tile: the arrow keys move it by a cell, with Shift they size it; undefined for other keys. */
export function placeByKey({ column, row, width, height }: Place, key: string, isSizing: boolean): Place | undefined {
  const [right, down] = steps[key] ?? [0, 0];
  if (right === 0 && down === 0) return undefined;
  return isSizing
    ? { column, row, width: between(2, columns - column, width + right), height: between(1, 40, height + down) }
    : { column: between(0, columns - width, column + right), row: Math.max(0, row + down), width, height };
}

/** The tiles of a tab or a section of it that are placed by hand, and what puts them elsewhere. Each drop is stored at once. */
export function usePlacing(tab: TabInfo, section: string | null) {
  const { dispatch, getState } = usePageStore();
  const tiles = useMemo(
    () => tab.tiles.filter((t) => !t.hidden && !t.isInPanel && t.section === section),
    [tab, section],
  );
  const layout = useMemo(
    () =>
      tiles.map(({ name, place, may }) => ({
        i: name,
        x: place.column,
        y: place.row,
        w: place.width,
        h: place.height,
        minW: 2,
        minH: 1,
        static: !may.includes('move'),
      })),
    [tiles],
  );

  const put = (tile: string, place: Place) =>
    dispatch({ type: 'edit', edit: { edit: 'place', tab: tab.name, tiles: [{ tile, place }] } });

  /** Keeps where a tile was dropped. What it only passed over stays where it was; what it covers now gives way at the service. */
  function keep(dropped: LayoutItem | null) {
    const before = layout.find((l) => l.i === dropped?.i);
    if (!dropped || !before) return;
    const { x, y, w, h } = dropped;
    if (before.x === x && before.y === y && before.w === w && before.h === h) return;
    put(dropped.i, { column: x, row: y, width: w, height: h });
  }

  /** Keeps a tile where the hand left it: on another tab, in another section, or at another place here. */
  function drop(dropped: LayoutItem | null, event: unknown) {
    const target = under(event);
    const isOther = target.tab !== undefined && target.tab !== tab.name;
    if (!dropped || !(isOther || (target.section !== undefined && target.section !== section))) return keep(dropped);
    const to = { tab: target.tab ?? tab.name, section: isOther ? null : target.section };
    dispatch({ type: 'edit', edit: { edit: 'move', tile: dropped.i, ...to } });
  }

  /** Adds what was carried from a catalogue where it was dropped. */
  function add(at: LayoutItem | undefined) {
    const { carried, page } = getState();
    if (!carried || !at) return;
    const { x: column, y: row, w, h: height } = at;
    const edit = {
      edit: 'add-tile' as const,
      tile: ownName(page, carried.shared.split('/')[1] ?? 'tile'),
      shared: carried.shared,
      tab: tab.name,
      section,
      place: { column: Math.min(column, columns - w), row, width: w, height },
    };
    dispatch({ type: 'carry' });
    dispatch({ type: 'edit', edit });
  }

  /** How large what is carried is where it is put down; false where nothing is carried. */
  const carriedSize = () => {
    const { carried } = getState();
    return carried ? { w: carried.width, h: carried.height } : false;
  };

  return { tiles, layout, put, keep, drop, add, carriedSize };
}

/**
 * How often something was carried over the page. Where moves of the hand come in after the drop, the grid goes on to show a place and
 * none of what is new: it is begun anew.
 */
export function useCarries() {
  const isCarrying = usePage((s) => s.carried !== undefined);
  const wasCarrying = useRef(false);
  const [carries, setCarries] = useState(0);
  useEffect(() => {
    if (wasCarrying.current && !isCarrying) setCarries((n) => n + 1);
    wasCarrying.current = isCarrying;
  }, [isCarrying]);
  return carries;
}
