import { type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import { draggedBy, type Lens } from '../../../model/lens';
import type { PickedRange, Selection } from '../../../model/selections';
import type { PictureProps } from '../../PictureProps';
import type { Drawing, Mark } from '../drawing';
import type { EChartsType } from '../echarts';
import type { Acts } from './acts';
import { type Band, placesOf, rangeOf } from './ranges';

/** A drag in pixels of the picture. */
interface Drag {
  what: 'draw' | 'move' | 'from' | 'to' | 'box' | 'plane';
  x: number;
  y: number;
  /** Where a moved range began, as places along the axis. */
  at: [number, number];
  /** What was picked before it. */
  before?: Selection;
}

/** A rectangle in pixels of the picture. */
type Box = Record<'left' | 'top' | 'width' | 'height', number>;

/** What can be dragged over a picture, and what is there. */
interface Draggable {
  canvas: RefObject<HTMLDivElement | null>;
  chart: RefObject<EChartsType | undefined>;
  drawing: Drawing;
  acts: Acts;
  canRange: boolean;
  canBox: boolean;
  /** The part of its plane that is shown, larger. */
  lens: Lens | undefined;
  selection: Selection | undefined;
  /** The range that is picked in it, and where that is drawn. */
  range: PickedRange | undefined;
  band: RefObject<Band | undefined>;
  wasDragged: RefObject<boolean>;
  onSelect: PictureProps['onSelect'];
  onWindow: PictureProps['onWindow'];
}

/**
 * Drags over a picture: ranges, boxes, and the plane itself.
 * @returns The box that is drawn, whether something is dragged, and what hears the pointer.
 */
export function useDragging(on: Draggable) {
  const { canvas, chart, drawing, acts, canRange, canBox, lens, wasDragged } = on;
  const drag = useRef<Drag>(undefined);
  const frame = useRef(0);
  const [box, setBox] = useState<Box>();
  const places = placesUnder(chart, drawing);

  function down(event: PointerEvent<HTMLDivElement>) {
    wasDragged.current = false;
    const canDrag = lens !== undefined && (event.shiftKey || !canBox);
    if (event.button !== 0 || (!canRange && !canBox && !canDrag) || !chart.current) return;
    const [x, y] = within(event.currentTarget, event);
    if (canDrag) {
      drag.current = { what: 'plane', x, y, at: [0, 0] };
      globalThis.addEventListener('pointerup', letGo, { once: true });
      return;
    }
    if (!chart.current.containPixel('grid', [x, y])) return;
    const picked = on.range && placesOf(drawing, on.range);
    const what = canBox ? 'box' : gripAt(x, picked && on.band.current);
    drag.current = { what, x, y, at: picked ?? [places.at(x), places.at(x)], before: on.selection };
    chart.current.dispatchAction({ type: 'hideTip' });
    if (canBox) globalThis.addEventListener('pointerup', letGo, { once: true });
    else event.currentTarget.setPointerCapture(event.pointerId);
  }

  /** The hand let go elsewhere what it had not begun to drag. */
  function letGo() {
    if (!wasDragged.current) drag.current = undefined;
  }

  function move(event: globalThis.PointerEvent) {
    const from = drag.current;
    if (!from || !canvas.current) return;
    // The picture's own pointer, which would draw all of it anew with each move, is left out of it.
    event.stopPropagation();
    const [x, y] = within(canvas.current, event);
    if (!wasDragged.current && Math.abs(x - from.x) + Math.abs(y - from.y) < 5) return;
    // Not before: who holds the pointer gets the click, too, which is that of the mark below where nothing is dragged.
    if (from.what === 'plane' || from.what === 'box') canvas.current.setPointerCapture(event.pointerId);
    wasDragged.current = true;
    if (from.what === 'plane') {
      const [a, b] = [placeOn(chart, drawing, from.x, from.y), placeOn(chart, drawing, x, y)];
      const { plane } = drawing;
      drag.current = { ...from, x, y };
      if (lens && plane && a && b) on.onWindow?.(draggedBy(lens, plane, [b[0] - a[0], b[1] - a[1]]));
      return;
    }
    if (from.what === 'box') {
      setBox(boxBetween(from, x, y));
      return;
    }
    cancelAnimationFrame(frame.current);
    frame.current = requestAnimationFrame(() => acts.range(places.dragged(from, x), true));
  }

  function up(event: PointerEvent<HTMLDivElement>) {
    const from = drag.current;
    drag.current = undefined;
    if (!from) return;
    const [x, y] = within(event.currentTarget, event);
    cancelAnimationFrame(frame.current);
    setBox(undefined);
    if (from.what === 'plane') return;
    if (from.what === 'box') {
      const marks = wasDragged.current ? marksBetween(chart, drawing, from, [x, y]) : undefined;
      if (marks) acts.only(marks);
      return;
    }
    if (wasDragged.current) {
      acts.range(places.dragged(from, x));
      return;
    }
    // A click: the one period under it, or no range any more if it was picked.
    const mark = drawing.marks[places.at(x)];
    if (mark) acts.pick(mark);
  }

  /** The browser took the pointer for itself (a finger that scrolls): what it drew on its way is not meant. */
  function cancel() {
    const from = drag.current;
    drag.current = undefined;
    cancelAnimationFrame(frame.current);
    setBox(undefined);
    if (from && wasDragged.current && from.what !== 'box' && from.what !== 'plane') on.onSelect(from.before);
  }

  const moved = useRef(move);
  moved.current = move;
  useEffect(() => {
    const element = canvas.current;
    const listen = (event: globalThis.PointerEvent) => moved.current(event);
    element?.addEventListener('pointermove', listen);
    return () => element?.removeEventListener('pointermove', listen);
  }, [canvas]);
  return {
    box,
    isDragging: drag.current !== undefined,
    hears: { onPointerDown: down, onPointerUp: up, onPointerCancel: cancel },
  };
}

/** Where a pointer is within an element, in pixels. */
function within(element: Element, { clientX, clientY }: { clientX: number; clientY: number }): [number, number] {
  const { left, top } = element.getBoundingClientRect();
  return [clientX - left, clientY - top];
}

/** What of a drawn range is under a hand: an end, the whole, or nothing, so that a new one is drawn. */
function gripAt(x: number, band: Band | undefined): Drag['what'] {
  if (!band) return 'draw';
  const right = band.left + band.width;
  if (Math.abs(x - band.left) < 8) return 'from';
  if (Math.abs(x - right) < 8) return 'to';
  return x > band.left && x < right ? 'move' : 'draw';
}

const boxBetween = (from: { x: number; y: number }, x: number, y: number): Box => ({
  left: Math.min(x, from.x),
  top: Math.min(y, from.y),
  width: Math.abs(x - from.x),
  height: Math.abs(y - from.y),
});

/** Places along the axis under pixels, within the members. */
function placesUnder(chart: RefObject<EChartsType | undefined>, drawing: Drawing) {
  const last = (drawing.along?.members.length ?? 1) - 1;
  const at = (x: number): number => {
    const place = chart.current?.convertFromPixel({ xAxisIndex: 0 }, x);
    return Math.max(0, Math.min(last, Math.round(Number(place ?? 0))));
  };
  /** The range that a drag to a pixel means. */
  const dragged = (from: Drag, x: number): PickedRange => {
    const here = at(x);
    let [low, high] = [at(from.x), here];
    if (from.what === 'from') [low, high] = [here, from.at[1]];
    if (from.what === 'to') [low, high] = [from.at[0], here];
    if (from.what === 'move') {
      const by = Math.max(-from.at[0], Math.min(last - from.at[1], here - at(from.x)));
      [low, high] = [from.at[0] + by, from.at[1] + by];
    }
    return rangeOf(drawing, Math.min(low, high), Math.max(low, high)) ?? { from: null, to: null };
  };
  return { at, dragged };
}

/** The place on the plane under a pixel; undefined where there is none. */
export function placeOn(
  chart: RefObject<EChartsType | undefined>,
  { coordinates }: Drawing,
  x: number,
  y: number,
): [number, number] | undefined {
  const at = chart.current?.convertFromPixel(coordinates ?? 'grid', [x, y]);
  return Array.isArray(at) && Number.isFinite(at[0]) && Number.isFinite(at[1])
    ? [Number(at[0]), Number(at[1])]
    : undefined;
}

/** The marks in a drawn box; undefined where it can't be said. */
function marksBetween(
  chart: RefObject<EChartsType | undefined>,
  drawing: Drawing,
  from: { x: number; y: number },
  to: [number, number],
): Mark[] | undefined {
  const a = chart.current?.convertFromPixel('grid', [from.x, from.y]) as [number, number] | undefined;
  const b = chart.current?.convertFromPixel('grid', to) as [number, number] | undefined;
  if (!a || !b) return undefined;
  const isBetween = (v: number, one: number, two: number) => v >= Math.min(one, two) && v <= Math.max(one, two);
  return drawing.marks.filter((m, i) => {
    const p = drawing.points?.[i];
    return !m.isRest && p && isBetween(p[0], a[0], b[0]) && isBetween(p[1], a[1], b[1]);
  });
}
