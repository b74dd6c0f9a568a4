import { type RefObject, useEffectEvent, useLayoutEffect, useRef, useState } from 'react';

/**
 * Measures before an element is painted, and again whenever its size changes.
 * @param what What else the measure depends on.
 */
export function useMeasured(ref: RefObject<HTMLElement | null>, measure: (element: HTMLElement) => void, what = '') {
  const now = useEffectEvent(measure);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is measured anew where that changes
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return;
    now(element);
    const observer = new ResizeObserver(() => now(element));
    observer.observe(element);
    return () => observer.disconnect();
  }, [ref, what]);
}

/** How large an element without padding is, in pixels, known before it is painted: nothing is drawn first for no room at all. */
export function useSize<T extends HTMLElement>() {
  const ref = useRef<T>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useMeasured(ref, (element) => {
    // As it is laid out, whatever moves or scales it on the screen.
    const { width, height } = getComputedStyle(element);
    const next = { width: Number.parseFloat(width) || 0, height: Number.parseFloat(height) || 0 };
    setSize((was) => (was.width === next.width && was.height === next.height ? was : next));
  });
  return { ref, ...size };
}
