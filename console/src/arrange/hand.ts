import { useRef } from 'react';

/** Where the hand is on the page, by mouse or finger. */
function handOf(event: unknown): { x: number; y: number } | undefined {
  const at = event instanceof MouseEvent ? event : event instanceof TouchEvent ? event.touches[0] : undefined;
  return at && { x: at.pageX, y: at.pageY };
}

/** The tab, or the section of the open one, over which the pointer is. */
export function under(event: unknown): { tab?: string; section?: string } {
  const at = event instanceof MouseEvent ? event : event instanceof TouchEvent ? event.changedTouches[0] : undefined;
  if (!at) return {};
  const over = document.elementsFromPoint(at.clientX, at.clientY);
  const of = (name: string) => over.find((e) => e.hasAttribute(name))?.getAttribute(name) ?? undefined;
  return { tab: of('data-tab'), section: of('data-section') };
}

/** The grid draws a dragged tile anew only where it comes over another cell; in between it is moved along with the hand. */
export function useFollowing() {
  const hand = useRef<{ x: number; y: number }>(undefined);
  const take = (event: unknown) => {
    hand.current = handOf(event);
  };
  const follow = (event: unknown, item: HTMLElement | null | undefined) => {
    const [before, now] = [hand.current, handOf(event)];
    hand.current = now;
    const drawn = /translate\((-?[\d.]+)px, (-?[\d.]+)px\)/.exec(item?.style.transform ?? '');
    if (!before || !now || !item || !drawn) return;
    const [left, top] = [Number(drawn[1]) + now.x - before.x, Number(drawn[2]) + now.y - before.y];
    item.style.transform = `translate(${left}px, ${top}px)`;
  };
  return { take, follow };
}
