import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import type { Drawing, Drawn, Mark } from '../drawing';
import { type EChartsType, init, drawing as way } from '../echarts';
import { bring } from '../libraryParts';
import type { Acts } from './acts';

/** What is asked for when something happens to a picture: as it is then. */
export interface Now {
  acts: Acts;
  drawing: Drawing;
}

/** How a picture hears a pointer. */
interface Hearing {
  isPickable: boolean;
  /** True where ranges are drawn, so that a click on a mark is heard by the drag. */
  canRange: boolean;
  target: Drawn['target'];
  /** True from where a hand dragged on until it is laid down again: a drag ends in what looks like a click. */
  wasDragged: RefObject<boolean>;
  now: RefObject<Now>;
}

/** An event of the drawing library, as far as it says which mark it is of. */
interface MarkEvent {
  dataIndex?: number;
  data?: unknown;
  event?: { event?: MouseEvent };
}

/** An event beside marks, in pixels of the picture. */
interface PlaceEvent {
  offsetX: number;
  offsetY: number;
  target?: unknown;
  event?: unknown;
}

/**
 * The chart that draws a picture into an element, and hears the pointer over it.
 * @param isReady False until the element has a size, and the library what it needs.
 * @returns Undefined within while there is none.
 */
export function useChart(
  canvas: RefObject<HTMLDivElement | null>,
  isReady: boolean,
  ratio: number,
  { isPickable, canRange, target, wasDragged, now }: Hearing,
): RefObject<EChartsType | undefined> {
  const chart = useRef<EChartsType>(undefined);
  useEffect(() => {
    if (!canvas.current || !isReady) return;
    const made = init(canvas.current, null, { renderer: way.renderer, devicePixelRatio: ratio });
    chart.current = made;
    const hearing = { isPickable, canRange, target, wasDragged, now };
    if (isPickable) hearClicks(made, hearing);
    hearOpening(made, hearing);
    return () => {
      made.dispose();
      chart.current = undefined;
    };
  }, [canvas, isReady, isPickable, canRange, target, ratio, wasDragged, now]);
  return chart;
}

function hearClicks(chart: EChartsType, { canRange, target, wasDragged, now }: Hearing) {
  let handled: unknown;
  chart.on('click', (event) => {
    const { event: from } = event as MarkEvent;
    handled = from?.event;
    if (wasDragged.current || canRange) return;
    const { acts, drawing } = now.current;
    const marks = marksOf(drawing, event as MarkEvent);
    if (marks.length > 1) acts.pickAll(marks, from?.event?.altKey);
    else if (marks[0]) acts.pick(marks[0], from?.event?.altKey);
  });
  chart.getZr().on('click', (event) => {
    if (wasDragged.current) return;
    const { acts, drawing } = now.current;
    const mark = markBeside(chart, drawing, event, event.event === handled, canRange ? undefined : target);
    if (mark) acts.pick(mark, event.event?.altKey);
  });
}

function hearOpening(chart: EChartsType, { target, now }: Hearing) {
  let opened: unknown;
  chart.on('dblclick', (event) => {
    opened = (event as MarkEvent).event?.event;
    const [mark] = marksOf(now.current.drawing, event as MarkEvent);
    if (mark) now.current.acts.open(mark);
  });
  chart.getZr().on('dblclick', (event) => {
    const { acts, drawing } = now.current;
    if (target !== 'band' || drawing.points || event.event === opened) return;
    const mark = bandAt(chart, drawing, event);
    if (mark) acts.open(mark);
  });
}

/** The marks that something drawn stands for: what stands for several members says for which. */
function marksOf({ marks }: Drawing, { data, dataIndex }: MarkEvent): Mark[] {
  const several = (data as { marks?: number[] } | undefined)?.marks;
  const places = several ?? (dataIndex === undefined ? [] : [dataIndex]);
  return places.map((p) => marks[p]).filter((m): m is Mark => m !== undefined);
}

/** The mark that a click beside all of them means, so that nobody has to hit a dot. @param isOn True if it was on one. */
function markBeside(
  chart: EChartsType,
  drawing: Drawing,
  event: PlaceEvent,
  isOn: boolean,
  target: Drawn['target'],
): Mark | undefined {
  const { along, marks, points, coordinates } = drawing;
  const at: [number, number] = [event.offsetX, event.offsetY];
  if (points && !isOn) {
    const pixels = points.map((p) => chart.convertToPixel(coordinates ?? 'grid', p) as [number, number]);
    const near = nearestPoint(pixels, at);
    return near === undefined ? undefined : marks[near];
  }
  if (target === 'band' && !isOn) return bandAt(chart, drawing, event);
  if (target !== 'nearest' || !along || event.target || !chart.containPixel('grid', at)) return undefined;
  const place = chart.convertFromPixel('grid', at)?.[0];
  return place === undefined ? undefined : marks[Math.round(place)];
}

/** The bar whose band or label is at a pixel: a small one could hardly be hit itself. */
function bandAt(
  chart: EChartsType,
  { marks, lying }: Drawing,
  { offsetX: x, offsetY: y }: { offsetX: number; offsetY: number },
): Mark | undefined {
  const at = Number(chart.convertFromPixel(lying ? { yAxisIndex: 0 } : { xAxisIndex: 0 }, lying ? y : x));
  const origin = Number(chart.convertToPixel(lying ? { xAxisIndex: 0 } : { yAxisIndex: 0 }, 0));
  const last = marks.reduce((most, m) => Math.max(most, m.data), -1);
  const isLabel = at > -0.5 && at < last + 0.5 && (lying ? x < origin : y > origin);
  if (!isLabel && !chart.containPixel('grid', [x, y])) return undefined;
  return marks.find((m) => m.data === Math.round(at));
}

/** How far from a point's middle a click still means it: a small one could hardly be hit. Half of a target of 24 pixels. */
const reach = 12;

/** The nearest of some points in reach; undefined if none is. */
export function nearestPoint(points: [number, number][], [x, y]: [number, number]): number | undefined {
  let [found, least] = [undefined as number | undefined, reach];
  points.forEach(([px, py], i) => {
    const distance = Math.hypot(px - x, py - y);
    if (distance <= least) [found, least] = [i, distance];
  });
  return found;
}

/** Whether the pointer is over a picture: a tip costs the page a layout with each change, so only that one has one. */
export function useHovered(): { isHovered: boolean; enter: () => void; leave: () => void } {
  const [isHovered, setHovered] = useState(false);
  const isOver = useRef(false);
  const enter = useCallback(() => {
    isOver.current = true;
    // What does not come is a picture without tips: its figures are in the list beside it all the same.
    bring('tips').then(
      () => isOver.current && setHovered(true),
      () => undefined,
    );
  }, []);
  const leave = useCallback(() => {
    isOver.current = false;
    setHovered(false);
  }, []);
  return { isHovered, enter, leave };
}
