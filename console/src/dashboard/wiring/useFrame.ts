import { type CSSProperties, type PointerEvent, type RefObject, useEffect, useEffectEvent, useState } from 'react';
import { type Boxes, follow, middleOf, type Point, pointIn } from './boxes';

/** A frame that is drawn around tiles. @param onFramed What becomes of those whose middle lies in it. */
export function useFrame(layer: RefObject<HTMLElement | null>, boxes: Boxes, onFramed: (tiles: string[]) => void) {
  const [frame, setFrame] = useState<{ from: Point; to: Point }>();
  const end = useEffectEvent((e: globalThis.PointerEvent) => {
    setFrame(undefined);
    if (frame) onFramed(tilesIn(boxes, frame.from, pointIn(layer.current, e)));
  });
  const isFraming = frame !== undefined;
  useEffect(() => {
    if (!isFraming) return;
    return follow(
      (e) => setFrame((f) => f && { ...f, to: pointIn(layer.current, e) }),
      (e) => end(e),
    );
  }, [layer, isFraming]);
  return {
    begin: (e: PointerEvent<HTMLElement>) => {
      const from = pointIn(e.currentTarget, e);
      setFrame({ from, to: from });
    },
    /** Where it is drawn, if one is. */
    place: frame && placeOf(frame.from, frame.to),
  };
}

const placeOf = (a: Point, b: Point): CSSProperties => ({
  left: Math.min(a.x, b.x),
  top: Math.min(a.y, b.y),
  width: Math.abs(b.x - a.x),
  height: Math.abs(b.y - a.y),
});

function tilesIn(boxes: Boxes, a: Point, b: Point): string[] {
  const isBetween = (v: number, one: number, two: number) => Math.min(one, two) <= v && v <= Math.max(one, two);
  return Object.entries(boxes).flatMap(([tile, box]) => {
    const { x, y } = middleOf(box);
    return isBetween(x, a.x, b.x) && isBetween(y, a.y, b.y) ? [tile] : [];
  });
}
