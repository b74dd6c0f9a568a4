import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, type RefObject, useState } from 'react';
import { useTokens } from '../look/look';

/** With more rows than this, those that are not in sight are not drawn. */
const drawnWhole = 120;

/** Of a row of a page: its place on it. */
interface Placed<T> {
  row: T;
  place: number;
}

/** The rows of a page. @param page How many lines it has; all of them if 0. */
export function usePages<T>(every: T[], page: number) {
  const [at, setAt] = useState(0);
  // A page beyond the last, since there are fewer lines now, is the last.
  const pages = page > 0 ? Math.max(1, Math.ceil(every.length / page)) : 1;
  const here = Math.min(at, pages - 1);
  const first = here * page;
  return { rows: page > 0 ? every.slice(first, first + page) : every, first, here, pages, setAt };
}

/** Of many rows those that are in sight, and how much room those above and below them take, in pixels. */
export function useInSight<T>(rows: T[], wrap: RefObject<HTMLDivElement | null>) {
  const isLong = rows.length > drawnWhole;
  const tokens = useTokens();
  const virtual = useVirtualizer({
    count: isLong ? rows.length : 0,
    // Nor is one measured that is drawn whole.
    getScrollElement: () => (isLong ? wrap.current : null),
    estimateSize: () => tokens.size * 1.5 + 9,
    overscan: 6,
  });
  const inSight = virtual.getVirtualItems();
  const placed = (place: number): Placed<T>[] => {
    const row = rows[place];
    return row === undefined ? [] : [{ row, place }];
  };

  /** Goes from row to row by the arrows, and picks by Enter or Space. */
  function byKey(event: KeyboardEvent<HTMLTableRowElement>, place: number, pick: () => void) {
    if (event.target !== event.currentTarget) return;
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      pick();
    }
    const to = event.key === 'ArrowDown' ? place + 1 : event.key === 'ArrowUp' ? place - 1 : undefined;
    if (to === undefined || to < 0 || to >= rows.length) return;
    event.preventDefault();
    if (isLong) virtual.scrollToIndex(to);
    requestAnimationFrame(() => wrap.current?.querySelector<HTMLElement>(`[data-place="${to}"]`)?.focus());
  }
  return {
    isLong,
    drawn: isLong ? inSight.flatMap((v) => placed(v.index)) : rows.map((row, place) => ({ row, place })),
    above: isLong ? (inSight[0]?.start ?? 0) : 0,
    below: isLong ? virtual.getTotalSize() - (inSight.at(-1)?.end ?? 0) : 0,
    byKey,
  };
}
