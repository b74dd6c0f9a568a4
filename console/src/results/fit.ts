import { useLayoutEffect, useState } from 'react';

/** How many pixels lower a row is where that lets all of them be seen. */
const saved = 4;

/** What stands beside an element in its column takes of it, in pixels. */
const besideOf = (element: HTMLElement) =>
  [...(element.parentElement?.children ?? [])].reduce((sum, other) => {
    if (other === element || !(other instanceof HTMLElement)) return sum;
    const { marginTop, marginBottom } = getComputedStyle(other);
    return sum + other.offsetHeight + Number.parseFloat(marginTop) + Number.parseFloat(marginBottom);
  }, 0);

/**
 * Whether rows are a little lower so that all are seen, or how high they are in all so that none is cut by the totals.
 * @param height How high the room of the table is, with what stands below it, in pixels.
 * @param what What their height depends on.
 */
export function useFit(wrap: React.RefObject<HTMLDivElement | null>, height: number, hasTotals: boolean, what: string) {
  const [fit, setFit] = useState<{ dense: boolean; height?: number }>({ dense: false });
  // biome-ignore lint/correctness/useExhaustiveDependencies: what the rows take depends on it
  useLayoutEffect(() => {
    const table = wrap.current?.querySelector('table');
    if (!wrap.current || !table || height === 0 || !hasTotals) return setFit({ dense: false });
    const room = height - besideOf(wrap.current);
    setFit((was) => {
      const heightOf = (part: string) => table.querySelector<HTMLElement>(part)?.offsetHeight ?? 0;
      const count = table.querySelectorAll('tr').length;
      const over = table.offsetHeight + (was.dense ? saved * count : 0) - room;
      // So many pixels less a row make room for the last one, which would else hide under the totals.
      const dense = over > 0 && over <= saved * count;
      const row = heightOf('tbody tr');
      // Else whole rows stand above the totals, and none that is cut.
      const fixed = heightOf('thead') + heightOf('tfoot');
      const whole = over > 0 && !dense && row > 0 ? fixed + Math.floor((room - fixed) / row) * row : undefined;
      return was.dense === dense && was.height === whole ? was : { dense, height: whole };
    });
  }, [height, hasTotals, what]);
  return fit;
}

/** Where each pinned column stands, beside those before it. */
export function useLefts(wrap: React.RefObject<HTMLDivElement | null>, pinned: string[], what: string) {
  const [lefts, setLefts] = useState<Record<string, number>>({});
  // biome-ignore lint/correctness/useExhaustiveDependencies: how wide the columns are depends on it
  useLayoutEffect(() => {
    let left = 0;
    const next: Record<string, number> = {};
    for (const name of pinned) {
      next[name] = left;
      left += wrap.current?.querySelector<HTMLElement>(`[data-column="${CSS.escape(name)}"]`)?.offsetWidth ?? 0;
    }
    setLefts((was) => (JSON.stringify(was) === JSON.stringify(next) ? was : next));
  }, [pinned, what]);
  return lefts;
}
