import { useRef, useState } from 'react';
import { fittingWidth } from './columnActs';
import classes from './results.module.css';

/** The right edge of a heading, by which its column is made wider or narrower; left without a width where the hand did not move. */
export function Edge({ onDraw, onLeave }: { onDraw: (width: number) => void; onLeave: (width?: number) => void }) {
  const from = useRef<{ x: number; width: number; drawn?: number }>(undefined);
  const [isMoved, setMoved] = useState(false);
  return (
    <span
      className={classes.edge}
      data-moved={isMoved}
      aria-hidden
      onPointerDown={(e) => {
        from.current = { x: e.clientX, width: e.currentTarget.parentElement?.offsetWidth ?? 0 };
        setMoved(true);
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => {
        if (!from.current) return;
        from.current.drawn = fittingWidth(from.current.width + e.clientX - from.current.x);
        onDraw(from.current.drawn);
      }}
      onLostPointerCapture={() => {
        const drawn = from.current?.drawn;
        from.current = undefined;
        setMoved(false);
        onLeave(drawn);
      }}
    />
  );
}
