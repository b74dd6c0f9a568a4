import { type RefObject, useState } from 'react';
import { useMeasured } from '../look/useSize';

/** How many pixels lower a row is where that lets all of them be seen. */
const saved = 4;

/** What stands beside an element in its column takes of it, in pixels. */
const besideOf = (element: HTMLElement) =>
  [...(element.parentElement?.children ?? [])].reduce((sum, other) => {
    if (other === element || !(other instanceof HTMLElement)) return sum;
    const { marginTop, marginBottom } = getComputedStyle(other);
    return sum + other.offsetHeight + Number.parseFloat(marginTop) + Number.parseFloat(marginBottom);
  }, 0);

/** How the rows of a table stand in its room. */
interface Fit {
  /** True where they are a little lower, so that all are seen. */
  dense: boolean;
  /** How high the table is so that no row is cut by the totals, in pixels; as high as its room if left out. */
  height?: number;
}

/**
 * How rows fit into the room of a table, with what stands below it.
 * @param what What their height depends on.
 */
export function useFit(
  room: RefObject<HTMLDivElement | null>,
  wrap: RefObject<HTMLDivElement | null>,
  hasTotals: boolean,
  what: string,
): Fit {
  const [fit, setFit] = useState<Fit>({ dense: false });
  const measure = (element: HTMLElement) => {
    const inner = wrap.current;
    const table = inner?.querySelector('table');
    setFit((was) => {
      const next: Fit =
        inner && table && hasTotals && element.offsetHeight > 0
          ? fitOf(table, element.offsetHeight - besideOf(inner), was)
          : { dense: false };
      return was.dense === next.dense && was.height === next.height ? was : next;
    });
  };
  useMeasured(room, measure, `${hasTotals} ${what}`);
  return fit;
}

function fitOf(table: HTMLElement, free: number, was: Fit): Fit {
  const heightOf = (part: string) => table.querySelector<HTMLElement>(part)?.offsetHeight ?? 0;
  const count = table.querySelectorAll('tr').length;
  const over = table.offsetHeight + (was.dense ? saved * count : 0) - free;
  // So many pixels less a row make room for the last one, which would else hide under the totals.
  const dense = over > 0 && over <= saved * count;
  const row = heightOf('tbody tr');
  if (over <= 0 || dense || row === 0) return { dense };
  // Else whole rows stand above the totals, and none that is cut.
  return { dense, height: wholeRows(free, heightOf('thead') + heightOf('tfoot'), row) };
}

/** How high a table is that shows whole rows and none that is cut, in pixels: of the room that is free, with what stands fixed in it. */
export const wholeRows = (free: number, fixed: number, row: number) =>
  fixed + Math.max(1, Math.floor((free - fixed) / row)) * row;

/** Where each pinned column stands, beside those before it. */
export function useLefts(wrap: RefObject<HTMLDivElement | null>, pinned: string[], what: string) {
  const [lefts, setLefts] = useState<Record<string, number>>({});
  const measure = () => {
    let left = 0;
    const next: Record<string, number> = {};
    for (const name of pinned) {
      next[name] = left;
      left += wrap.current?.querySelector<HTMLElement>(`[data-column="${CSS.escape(name)}"]`)?.offsetWidth ?? 0;
    }
    setLefts((was) => (JSON.stringify(was) === JSON.stringify(next) ? was : next));
  };
  useMeasured(wrap, measure, `${pinned} ${what}`);
  return lefts;
}
