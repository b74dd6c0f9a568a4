import { type RefObject, useCallback, useEffect } from 'react';
import { type Lens, type Plane, zoomedAt } from '../../../model/lens';
import { windowAt, zoomed } from '../../../model/window';
import type { PictureProps } from '../../PictureProps';
import type { Drawing, Overview } from '../drawing';
import type { EChartsType } from '../echarts';
import { placeOn } from './useDragging';

/** What of a picture can be seen larger, as it is when it is asked for. */
export interface Zoomable {
  drawing: Drawing;
  lens: Lens | undefined;
  overview: Overview | undefined;
}

/**
 * Enlarges a part of a picture, also by the wheel.
 * @returns Zooms by a factor, around the place of a mark or the middle; 0 leads back to all of it. False where nothing can be enlarged.
 */
export function useZoom(
  canvas: RefObject<HTMLDivElement | null>,
  chart: RefObject<EChartsType | undefined>,
  now: RefObject<Zoomable>,
  onWindow: PictureProps['onWindow'],
): (factor: number, at?: number) => boolean {
  const zoomPlane = useCallback(
    (factor: number, at?: [number, number]) => {
      const { drawing, lens } = now.current;
      if (drawing.plane && onWindow) onWindow(factor === 0 ? undefined : zoomedAt(lens, drawing.plane, factor, at));
    },
    [now, onWindow],
  );
  const zoom = useCallback(
    (factor: number, at?: number) => {
      const { overview, drawing } = now.current;
      const { plane, points } = drawing;
      if (plane) {
        zoomPlane(factor, at === undefined ? undefined : points?.[at]);
        return true;
      }
      if (!overview || !onWindow || overview.members.length < 3) return false;
      const { members, shown } = overview;
      // One of many may have fewer members than lie on the axis of all of them.
      const along = drawing.along?.members ?? [];
      const under = at === undefined ? undefined : along[Math.max(0, Math.min(along.length - 1, Math.round(at)))];
      const around = under === undefined ? (shown[0] + shown[1]) / 2 : members.indexOf(under);
      const next = factor === 0 ? undefined : zoomed(shown, around, factor, members.length);
      onWindow(next && windowAt(members, next));
      return true;
    },
    [now, onWindow, zoomPlane],
  );
  useEffect(() => {
    const element = canvas.current;
    // With the key that every browser zooms by; the page itself stays as it is then, and scrolls without it.
    const turn = (event: WheelEvent) => {
      if (!event.ctrlKey || !chart.current || event.deltaY === 0) return;
      const bounds = element?.getBoundingClientRect();
      const x = event.clientX - (bounds?.left ?? 0);
      const factor = event.deltaY < 0 ? 0.8 : 1.25;
      const { drawing, overview } = now.current;
      if (drawing.plane && onWindow) {
        const at = placeOn(chart, drawing, x, event.clientY - (bounds?.top ?? 0));
        if (at && isOn(drawing.plane, at)) zoomPlane(factor, at);
        event.preventDefault();
        return;
      }
      const at = Number(chart.current.convertFromPixel({ xAxisIndex: 0 }, x));
      if (overview && zoom(factor, at)) event.preventDefault();
    };
    element?.addEventListener('wheel', turn, { passive: false });
    return () => element?.removeEventListener('wheel', turn);
  }, [canvas, chart, now, zoom, zoomPlane, onWindow]);
  return zoom;
}

/** True for a place on a plane. */
const isOn = ({ x, y }: Plane, at: [number, number]) =>
  at[0] >= x[0] && at[0] <= x[1] && at[1] >= y[0] && at[1] <= y[1];
