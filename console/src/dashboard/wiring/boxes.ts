import { type RefObject, useCallback, useEffect, useLayoutEffect, useState } from 'react';

/** Where a tile stands, in pixels of the picture. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}
export type Boxes = Record<string, Box>;

/** A point in pixels of the picture. */
export interface Point {
  x: number;
  y: number;
}

export const middleOf = (b: Box): Point => ({ x: b.x + b.width / 2, y: b.y + b.height / 2 });

/** Where the tiles of the open tab stand under the picture. */
export function useBoxes(layer: RefObject<HTMLElement | null>, tab: string): Boxes {
  const [boxes, setBoxes] = useState<Boxes>({});
  const measure = useCallback(() => {
    const origin = layer.current?.getBoundingClientRect();
    if (!origin) return;
    const found = [...document.querySelectorAll<HTMLElement>('main [data-tile]')].map((e) => {
      const { x, y, width, height } = e.getBoundingClientRect();
      return [e.dataset.tile ?? '', { x: x - origin.x, y: y - origin.y, width, height }] as const;
    });
    setBoxes(Object.fromEntries(found));
  }, [layer]);
  useLayoutEffect(() => {
    if (tab) measure();
  }, [measure, tab]);
  useEffect(() => {
    window.addEventListener('resize', measure);
    return () => window.removeEventListener('resize', measure);
  }, [measure]);
  return boxes;
}

/** The tile whose box is under the pointer. */
export const tileUnder = (e: PointerEvent): string | undefined =>
  document
    .elementsFromPoint(e.clientX, e.clientY)
    .map((x) => x.getAttribute('data-wire'))
    .find((name) => name !== null) ?? undefined;

/** Where a pointer is in the picture. */
export const pointIn = (layer: HTMLElement | null, e: { clientX: number; clientY: number }): Point => {
  const origin = layer?.getBoundingClientRect();
  return { x: e.clientX - (origin?.x ?? 0), y: e.clientY - (origin?.y ?? 0) };
};

/** Follows a pointer wherever it goes, until it is let go. */
export function follow(move: (e: PointerEvent) => void, up: (e: PointerEvent) => void): () => void {
  window.addEventListener('pointermove', move);
  window.addEventListener('pointerup', up);
  return () => {
    window.removeEventListener('pointermove', move);
    window.removeEventListener('pointerup', up);
  };
}
