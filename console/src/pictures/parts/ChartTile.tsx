import { useElementSize } from '@mantine/hooks';
import { type PointerEvent, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { TileInfo } from '../../api/client';
import { useTokens } from '../../look/look';
import { useRested } from '../../look/useRested';
import { draggedBy, isLens, type Plane, zoomedAt } from '../../model/lens';
import { inPlacesOf } from '../../model/order';
import { rangeNow } from '../../model/periodSpan';
import { nextPeriod } from '../../model/periods';
import {
  hasPick,
  instant,
  isPicked,
  isRestPicked,
  liesIn,
  open,
  type PickedRange,
  type Selection,
  toggle,
  toggleAll,
  toggleRest,
  within,
  withRange,
} from '../../model/selections';
import { windowAt, zoomed } from '../../model/window';
import classes from '../../tiles/tiles.module.css';
import { apart } from '../apart';
import type { PictureProps } from '../PictureProps';
import type { Drawing, Drawn, Mark } from './drawing';
import { type EChartsType, init, moveBars, drawing as way } from './echarts';
import { Legend } from './Legend';
import { bring, useParts } from './libraryParts';
import { PickList } from './PickList';
import { usePixelRatio } from './usePixelRatio';

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

/** Where a range is drawn over a picture, in its pixels. */
interface Band {
  left: number;
  width: number;
  height: number;
}

const none: readonly string[] = [];

const [plain, lined, patterned, both] = [[], ['markers'], ['patterns'], ['markers', 'patterns']] as const;
/** What of the library a picture needs beside the usual: for lines at values, and for patterns. */
const partsFor = (hasLines: boolean, hasPatterns: boolean) =>
  hasLines ? (hasPatterns ? both : lined) : hasPatterns ? patterned : plain;

const { Part: WindowStrip } = apart(async () => ({ default: (await import('./WindowStrip')).WindowStrip }));
const { Part: Panels } = apart(() => import('./Panels'));

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

/** A chart whose marks can be picked by mouse, touch and keyboard, and read by a screen reader; or one for each member of a field. */
export function ChartTile(props: PictureProps & Drawn) {
  const ratio = usePixelRatio();
  if (props.tile.repeats) return <Panels {...props} Chart={ChartTile} />;
  return <Chart key={ratio} {...props} ratio={ratio} />;
}

function Chart({
  tile: defined,
  result,
  weekStarts,
  selection,
  isPassing,
  onSelect,
  hidden: given,
  onHide,
  window: shown,
  onWindow,
  scale,
  ends,
  draw,
  words,
  target,
  boxes,
  panel,
  overview: ofAll,
  ratio,
}: PictureProps & Drawn & { ratio: number }) {
  const tokens = useTokens();
  const isPanel = panel !== undefined;
  const { ref, width, height } = useElementSize();
  const lens = shown && isLens(shown) ? shown : undefined;
  // One of many has only rows of the part that is shown.
  const window = shown && !isLens(shown) && !isPanel ? shown : undefined;
  // What is hidden by the legend stays hidden when the next answer comes.
  const [own, setOwn] = useState<readonly string[]>(none);
  const names = given ?? own;
  const hidden = useMemo(() => new Set(names), [names]);
  const canvas = useRef<HTMLDivElement>(null);
  const drawn = useRef<EChartsType>(undefined);
  const partial = useMemo(() => result.partial ?? [], [result.partial]);
  // A drawn span lies over the picture, which stays as it is while the hand moves.
  const marked = defined.pick === 'range' ? undefined : selection;
  // What changed with each frame could not be followed: while a hand moves, members keep their places and the axis never gets
  // shorter; both are as the figures have it when the hand rests.
  const isMoving = useSettled(result.table) !== result.table && isPassing === true;
  const last = useRef({ table: result.table, reach: undefined as readonly number[] | undefined });
  const table = useMemo(
    () => (isMoving ? inPlacesOf(result.table, last.current.table) : result.table),
    [result.table, isMoving],
  );
  const reach = isMoving ? last.current.reach : undefined;
  const tile = useMemo(() => withReferences(defined, result.references), [defined, result.references]);
  const drawing = useMemo(
    () =>
      toolsOf(
        tile,
        draw({
          tile,
          table,
          partial,
          partialPairs: result.partialPairs,
          outliers: result.outliers,
          weekStarts,
          selection: marked,
          hidden,
          window,
          lens,
          isSmall: isPanel,
          tokens,
          width,
          height,
          scale,
          ends,
          reach,
        }),
      ),
    [
      tile,
      table,
      draw,
      partial,
      result.partialPairs,
      result.outliers,
      weekStarts,
      marked,
      hidden,
      window,
      lens,
      isPanel,
      tokens,
      width,
      height,
      scale,
      ends,
      reach,
    ],
  );
  last.current = { table, reach: `${last.current.reach}` === `${drawing.reach}` ? last.current.reach : drawing.reach };
  // A named period is drawn as what it spans now; what lies in the picture of another member is none of this one.
  const here = panel && selection && !liesIn(selection, panel[0]) ? undefined : selection;
  const range = useMemo(() => rangeNow(here, weekStarts), [here, weekStarts]);
  const canRange = tile.pick === 'range' && drawing.along !== undefined;
  const canBox = boxes === true && tile.pick === 'many';
  const isPickable = tile.pick !== 'none';
  const drag = useRef<Drag>(undefined);
  const frame = useRef(0);
  const [box, setBox] = useState<{ left: number; top: number; width: number; height: number }>();
  // Moved with the hand, past React.
  const bandElement = useRef<HTMLDivElement>(null);
  const lastBand = useRef<Band>(undefined);

  const pick = (mark: Mark, allBut = false) => {
    if (canRange) {
      const at = drawing.marks.indexOf(mark);
      const next = rangeOf(drawing, at, at);
      const isSame = sameRange(here?.range, next);
      onSelect(withRange(selection, isSame ? undefined : next, panel));
      return;
    }
    const shown = drawing.marks.filter((m) => !m.isRest).map((m) => m.member);
    const next = mark.isRest ? toggleRest(selection, shown, tile.pick) : toggle(selection, mark.member, tile.pick);
    onSelect(next && allBut ? { ...next, exclude: true } : next);
  };
  const pickAll = (marks: Mark[], allBut = false) => {
    // Where one member is picked at a time, what stands for several is nothing to pick.
    if (tile.pick !== 'many') return;
    const next = toggleAll(
      selection,
      marks.filter((m) => !m.isRest).map((m) => m.member),
    );
    onSelect(next && allBut ? { ...next, exclude: true } : next);
  };
  const openMark = (mark: Mark) => {
    if (!mark.isRest && (selection?.path?.length ?? 0) < tile.levels.length - 1)
      onSelect(open(selection, mark.member[0] ?? null));
  };
  const extend = (from: number, to: number) =>
    onSelect(withRange(selection, rangeOf(drawing, Math.min(from, to), Math.max(from, to)), panel));
  const overview = drawing.overview ?? ofAll;
  const latest = useRef({ pick, pickAll, openMark, extend, drawing, lens, overview });
  latest.current = { pick, pickAll, openMark, extend, drawing, lens, overview };
  const wasDragged = useRef(false);
  const lastShape = useRef('');
  const lastDrawing = useRef<Drawing>(undefined);

  const parts = useParts(partsFor((tile.references?.length ?? 0) > 0, tokens.patterns));
  const sized = width > 0 && height > 0 && parts;
  useEffect(() => {
    if (!canvas.current || !sized) return;
    const instance = init(canvas.current, null, { renderer: way.renderer, devicePixelRatio: ratio });
    drawn.current = instance;
    lastShape.current = '';
    lastDrawing.current = undefined;
    const marksOf = (event: { dataIndex?: number; data?: unknown }): Mark[] => {
      const { marks } = latest.current.drawing;
      // What stands for several members says for which.
      const several = (event.data as { marks?: number[] } | undefined)?.marks;
      const places = several ?? (event.dataIndex === undefined ? [] : [event.dataIndex]);
      return places.map((p) => marks[p]).filter((m): m is Mark => m !== undefined);
    };
    const markOf = (event: { dataIndex?: number; data?: unknown }) => marksOf(event)[0];
    let handled: unknown;
    let opened: unknown;
    if (isPickable) {
      instance.on('click', (event) => {
        const marks = marksOf(event as { dataIndex?: number; data?: unknown });
        handled = (event as { event?: { event?: MouseEvent } }).event?.event;
        if (wasDragged.current || canRange) return;
        const isAlt = (event as { event?: { event?: MouseEvent } }).event?.event?.altKey;
        if (marks.length > 1) latest.current.pickAll(marks, isAlt);
        else if (marks[0]) latest.current.pick(marks[0], isAlt);
      });
      // A line or an area is picked at the nearest of its points, so that nobody has to hit a dot.
      instance.getZr().on('click', (event) => {
        const { along, marks, points, coordinates } = latest.current.drawing;
        if (points && !wasDragged.current && event.event !== handled) {
          const near = nearestPoint(
            points.map((p) => instance.convertToPixel(coordinates ?? 'grid', p) as [number, number]),
            [event.offsetX, event.offsetY],
          );
          const mark = near === undefined ? undefined : marks[near];
          if (mark) latest.current.pick(mark, event.event?.altKey);
          return;
        }
        if (target === 'band' && !wasDragged.current && !canRange && event.event !== handled) {
          const bar = bandAt(instance, latest.current.drawing, event);
          if (bar) latest.current.pick(bar, event.event?.altKey);
          return;
        }
        if (
          wasDragged.current ||
          !along ||
          event.target ||
          !instance.containPixel('grid', [event.offsetX, event.offsetY])
        )
          return;
        const place = instance.convertFromPixel('grid', [event.offsetX, event.offsetY])?.[0];
        const mark = place === undefined ? undefined : marks[Math.round(place)];
        if (mark && !canRange && target === 'nearest') latest.current.pick(mark, event.event?.altKey);
      });
    }
    instance.on('dblclick', (event) => {
      const mark = markOf(event as { dataIndex?: number });
      opened = (event as { event?: { event?: MouseEvent } }).event?.event;
      if (mark) latest.current.openMark(mark);
    });
    instance.getZr().on('dblclick', (event) => {
      const { drawing } = latest.current;
      if (target !== 'band' || drawing.points || event.event === opened) return;
      const mark = bandAt(instance, drawing, event);
      if (mark) latest.current.openMark(mark);
    });
    return () => {
      instance.dispose();
      drawn.current = undefined;
    };
  }, [sized, isPickable, canRange, target, ratio]);

  // A tooltip costs the page a layout with each change, so only the picture under the pointer has one.
  const [isHovered, setHovered] = useState(false);
  const isOver = useRef(false);
  const over = () => {
    isOver.current = true;
    // What does not come is a picture without tips: its figures are in the list beside it all the same.
    bring('tips').then(
      () => isOver.current && setHovered(true),
      () => undefined,
    );
  };
  useEffect(() => {
    if (sized) drawn.current?.resize({ width, height });
  }, [sized, width, height]);
  useEffect(() => {
    const chart = drawn.current;
    if (!sized || !chart) return;
    const before = lastDrawing.current;
    lastDrawing.current = drawing;
    const isStill = before?.bars !== undefined && before.bars.still === drawing.bars?.still;
    // Where only lengths changed, only they are drawn anew, in this frame already and not in the one after.
    if (isStill && !isHovered && drawing.bars && moveBars(chart, drawing.bars)) {
      chart.getZr().flush();
      return;
    }
    const { tooltip, ...still } = drawing.option;
    const option = isHovered ? drawing.option : still;
    // Where only figures changed, what is drawn is changed and not made anew.
    const shape = `${isHovered} ${shapeOf(option)}`;
    chart.setOption(option, shape === lastShape.current ? undefined : { notMerge: true });
    lastShape.current = shape;
    chart.getZr().flush();
    // For whoever waits until a picture stands.
    if (canvas.current) canvas.current.dataset.drawn = '';
  }, [drawing, sized, isHovered]);
  useEffect(() => {
    const element = bandElement.current;
    if (!sized || !element) return;
    const band = drawn.current ? bandOf(drawn.current, drawing, range, height) : undefined;
    lastBand.current = band;
    element.hidden = band === undefined;
    if (!band) return;
    element.style.transform = `translateX(${band.left}px)`;
    element.style.width = `${band.width}px`;
    element.style.height = `${band.height}px`;
  }, [drawing, sized, height, range]);

  /** The place on the plane under a pixel. */
  const placeOn = useCallback((x: number, y: number): [number, number] | undefined => {
    const at = drawn.current?.convertFromPixel(latest.current.drawing.coordinates ?? 'grid', [x, y]);
    return Array.isArray(at) && Number.isFinite(at[0]) && Number.isFinite(at[1])
      ? [Number(at[0]), Number(at[1])]
      : undefined;
  }, []);

  /** The place along the axis under a pixel, within the members. */
  const placeAt = (x: number): number => {
    const last = (drawing.along?.members.length ?? 1) - 1;
    const place = drawn.current?.convertFromPixel({ xAxisIndex: 0 }, x);
    return Math.max(0, Math.min(last, Math.round(Number(place ?? 0))));
  };

  function down(event: PointerEvent<HTMLDivElement>) {
    wasDragged.current = false;
    const canDrag = lens !== undefined && (event.shiftKey || !canBox);
    if (event.button !== 0 || (!canRange && !canBox && !canDrag) || !drawn.current) return;
    const bounds = event.currentTarget.getBoundingClientRect();
    const [x, y] = [event.clientX - bounds.left, event.clientY - bounds.top];
    if (canDrag) {
      drag.current = { what: 'plane', x, y, at: [0, 0] };
      globalThis.addEventListener('pointerup', letGo, { once: true });
      return;
    }
    if (!drawn.current.containPixel('grid', [x, y])) return;
    const picked = range && placesOf(drawing, range);
    const band = lastBand.current;
    const what: Drag['what'] = canBox
      ? 'box'
      : !band || !picked
        ? 'draw'
        : Math.abs(x - band.left) < 8
          ? 'from'
          : Math.abs(x - band.left - band.width) < 8
            ? 'to'
            : x > band.left && x < band.left + band.width
              ? 'move'
              : 'draw';
    drag.current = { what, x, y, at: picked ?? [placeAt(x), placeAt(x)], before: selection };
    drawn.current.dispatchAction({ type: 'hideTip' });
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
    const bounds = canvas.current.getBoundingClientRect();
    const [x, y] = [event.clientX - bounds.left, event.clientY - bounds.top];
    if (!wasDragged.current && Math.abs(x - from.x) + Math.abs(y - from.y) < 5) return;
    // Not before: who holds the pointer gets the click, too, which is that of the mark below where nothing is dragged.
    if (from.what === 'plane' || from.what === 'box') canvas.current.setPointerCapture(event.pointerId);
    wasDragged.current = true;
    if (from.what === 'plane') {
      const [a, b] = [placeOn(from.x, from.y), placeOn(x, y)];
      const { plane } = drawing;
      drag.current = { ...from, x, y };
      if (lens && plane && a && b) onWindow?.(draggedBy(lens, plane, [b[0] - a[0], b[1] - a[1]]));
      return;
    }
    if (from.what === 'box') {
      setBox({
        left: Math.min(x, from.x),
        top: Math.min(y, from.y),
        width: Math.abs(x - from.x),
        height: Math.abs(y - from.y),
      });
      return;
    }
    cancelAnimationFrame(frame.current);
    frame.current = requestAnimationFrame(() => onSelect(withRange(selection, dragged(from, x), panel), true));
  }

  /** The range that a drag to a pixel means. */
  function dragged(from: Drag, x: number): PickedRange {
    const here = placeAt(x);
    const last = (drawing.along?.members.length ?? 1) - 1;
    let [low, high] = [placeAt(from.x), here];
    if (from.what === 'from') [low, high] = [here, from.at[1]];
    if (from.what === 'to') [low, high] = [from.at[0], here];
    if (from.what === 'move') {
      const by = Math.max(-from.at[0], Math.min(last - from.at[1], here - placeAt(from.x)));
      [low, high] = [from.at[0] + by, from.at[1] + by];
    }
    return rangeOf(drawing, Math.min(low, high), Math.max(low, high)) ?? { from: null, to: null };
  }

  function up(event: PointerEvent<HTMLDivElement>) {
    const from = drag.current;
    drag.current = undefined;
    if (!from) return;
    const bounds = event.currentTarget.getBoundingClientRect();
    const [x, y] = [event.clientX - bounds.left, event.clientY - bounds.top];
    cancelAnimationFrame(frame.current);
    setBox(undefined);
    if (from.what === 'plane') return;
    if (from.what === 'box') {
      if (!wasDragged.current) return;
      const a = drawn.current?.convertFromPixel('grid', [from.x, from.y]) as [number, number] | undefined;
      const b = drawn.current?.convertFromPixel('grid', [x, y]) as [number, number] | undefined;
      if (!a || !b) return;
      const inside = (v: number, one: number, two: number) => v >= Math.min(one, two) && v <= Math.max(one, two);
      const members = drawing.marks
        .filter((m, i) => {
          const p = drawing.points?.[i];
          return !m.isRest && p && inside(p[0], a[0], b[0]) && inside(p[1], a[1], b[1]);
        })
        .map((m) => m.member);
      onSelect(members.length > 0 ? { ...selection, members } : undefined);
      return;
    }
    if (wasDragged.current) {
      onSelect(withRange(selection, dragged(from, x), panel));
      return;
    }
    // A click: the one period under it, or no range any more if it was picked.
    const mark = drawing.marks[placeAt(x)];
    if (mark) pick(mark);
  }

  /** The browser took the pointer for itself (a finger that scrolls): what it drew on its way is not meant. */
  function cancel() {
    const from = drag.current;
    drag.current = undefined;
    cancelAnimationFrame(frame.current);
    setBox(undefined);
    if (from && wasDragged.current && from.what !== 'box' && from.what !== 'plane') onSelect(from.before);
  }

  // What a screen reader reads follows when the hand rests: a list of many marks is no part of the movement.
  const calm = useRested(selection, drag.current !== undefined);
  const moved = useRef(move);
  moved.current = move;
  useEffect(() => {
    const element = canvas.current;
    const listen = (event: globalThis.PointerEvent) => moved.current(event);
    element?.addEventListener('pointermove', listen);
    return () => element?.removeEventListener('pointermove', listen);
  }, []);
  const zoomPlane = useCallback(
    (factor: number, at?: [number, number]) => {
      const { drawing, lens } = latest.current;
      if (drawing.plane && onWindow) onWindow(factor === 0 ? undefined : zoomedAt(lens, drawing.plane, factor, at));
    },
    [onWindow],
  );
  const zoom = useCallback(
    (factor: number, at?: number) => {
      const { overview, drawing } = latest.current;
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
    [onWindow, zoomPlane],
  );
  useEffect(() => {
    const element = canvas.current;
    // With the key that every browser zooms by; the page itself stays as it is then, and scrolls without it.
    const turn = (event: WheelEvent) => {
      if (!event.ctrlKey || !drawn.current || event.deltaY === 0) return;
      const bounds = element?.getBoundingClientRect();
      const x = event.clientX - (bounds?.left ?? 0);
      const { plane } = latest.current.drawing;
      if (plane && onWindow) {
        const at = placeOn(x, event.clientY - (bounds?.top ?? 0));
        if (at && isOn(plane, at)) zoomPlane(event.deltaY < 0 ? 0.8 : 1.25, at);
        event.preventDefault();
        return;
      }
      const at = Number(drawn.current.convertFromPixel({ xAxisIndex: 0 }, x));
      if (latest.current.overview && zoom(event.deltaY < 0 ? 0.8 : 1.25, at)) event.preventDefault();
    };
    element?.addEventListener('wheel', turn, { passive: false });
    return () => element?.removeEventListener('wheel', turn);
  }, [zoom, zoomPlane, placeOn, onWindow]);
  const settled = useSettled(drawing);
  const marks = useMemo(
    () =>
      settled.marks.map((m) => ({
        key: JSON.stringify([m.member, m.isRest]),
        get text() {
          return m.text;
        },
        picked: hasPick(calm) && (m.isRest ? isRestPicked(calm) : isPicked(calm, m.member)),
        pick: (allBut?: boolean) => latest.current.pick(m, allBut),
      })),
    [settled, calm],
  );
  const picked = marks.filter((m) => m.picked).length;
  const by = result.table.columns.filter((c) => c.role === 'group').map((c) => c.title);
  const summary = `${by.join(' and ')}: ${words}, ${marks.length} marks, ${picked} selected${settled.summary ? `, ${settled.summary}` : ''}`;
  const onActive = useCallback((at: number | undefined) => {
    drawn.current?.dispatchAction({ type: 'downplay' });
    const mark = at === undefined ? undefined : latest.current.drawing.marks[at];
    if (mark) drawn.current?.dispatchAction({ type: 'highlight', seriesIndex: mark.series, dataIndex: mark.data });
  }, []);
  const opens = tile.levels.length > 1;
  const onOpen = useCallback((at: number) => {
    const mark = latest.current.drawing.marks[at];
    if (mark) latest.current.openMark(mark);
  }, []);
  const onExtend = useCallback((from: number, to: number) => latest.current.extend(from, to), []);

  return (
    <>
      {drawing.legend && !isPanel && (
        <Legend
          title={tile.title}
          entries={drawing.legend}
          hidden={hidden}
          onChange={(next) => (onHide ?? setOwn)([...next])}
          width={width}
          height={height}
          size={tokens.size}
        />
      )}
      <div ref={ref} className={classes.chart}>
        <div
          ref={canvas}
          className={classes.canvas}
          data-chart
          role="img"
          data-range={canRange}
          // For whoever waits until it stands as its figures have it.
          data-moving={isMoving || undefined}
          aria-label={summary}
          style={{
            cursor: canRange || canBox ? 'crosshair' : isPickable ? 'pointer' : undefined,
            touchAction: canRange ? 'pan-y' : canBox || lens ? 'none' : undefined,
          }}
          onPointerEnter={over}
          onPointerLeave={() => {
            isOver.current = false;
            setHovered(false);
          }}
          onPointerDown={down}
          onPointerUp={up}
          onPointerCancel={cancel}
        />
        {canRange && <div ref={bandElement} className={classes.band} data-band aria-hidden hidden />}
        {box && <div className={classes.box} style={box} aria-hidden />}
        {drawing.note && <p className={classes.note}>{drawing.note}</p>}
        {lens && drawing.plane && (
          <button type="button" className={classes.wayBack} onClick={() => onWindow?.(undefined)}>
            All of it
          </button>
        )}
        {isPickable && (
          <PickList
            summary={summary}
            many={tile.pick !== 'one'}
            marks={marks}
            onActive={onActive}
            onOpen={opens ? onOpen : undefined}
            onExtend={canRange ? onExtend : undefined}
            onZoom={overview || (drawing.plane && onWindow) ? zoom : undefined}
          />
        )}
      </div>
      {drawing.overview && onWindow && (window || tile.options.window) && (
        <WindowStrip
          title={tile.title}
          overview={drawing.overview}
          opening={tile.options.window ? Number(tile.options.window) : undefined}
          onChange={onWindow}
        />
      )}
    </>
  );
}

/** True for a place on a plane. */
const isOn = ({ x, y }: Plane, at: [number, number]) =>
  at[0] >= x[0] && at[0] <= x[1] && at[1] >= y[0] && at[1] <= y[1];

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

/** A value once it has stood for a moment: what changes with every frame can not be read. */
function useSettled<T>(value: T): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), 120);
    return () => clearTimeout(timer);
  }, [value]);
  return settled;
}

/** The range from one member along the axis to another, both included. */
function rangeOf(drawing: Drawing, from: number, to: number): PickedRange | undefined {
  const { members, at, edges } = drawing.along ?? { members: [], at: null };
  // Of ranges the last one alone holds its end.
  if (edges)
    return {
      from: edges[from] as number,
      to: edges[to + 1] as number,
      ...(to + 2 < edges.length ? { below: true } : {}),
    };
  const known = members.slice(from, to + 1).filter((m) => m !== null);
  const [first, last] = [known[0], known[known.length - 1]];
  if (first === undefined || last === undefined) return undefined;
  if (typeof first === 'number') return { from: first, to: last as number };
  return { from: first as string, to: nextPeriod(last as string, at ?? 'day') };
}

/** The places of the first and last member that lie in a range. */
function placesOf(drawing: Drawing, range: PickedRange): [number, number] | undefined {
  const isInside = within(range);
  const members = drawing.along?.members ?? [];
  const first = members.findIndex(isInside);
  return first < 0 ? undefined : [first, members.findLastIndex(isInside)];
}

const sameRange = (a: PickedRange | undefined, b: PickedRange | undefined) => {
  const end = (v: string | number | null | undefined) => (typeof v === 'string' ? instant(v) : v);
  return (
    a !== undefined &&
    b !== undefined &&
    end(a.from) === end(b.from) &&
    end(a.to) === end(b.to) &&
    (a.below ?? false) === (b.below ?? false)
  );
};

/** Where a range is drawn, in pixels. */
function bandOf(
  instance: EChartsType,
  drawing: Drawing,
  range: PickedRange | undefined,
  height: number,
): Band | undefined {
  const places = range && placesOf(drawing, range);
  if (!places) return undefined;
  const x = (place: number) => Number(instance.convertToPixel({ xAxisIndex: 0 }, place));
  const half = drawing.along && drawing.along.members.length > 1 ? Math.abs(x(1) - x(0)) / 2 : 8;
  const foot = drawing.along?.edges ? Number(instance.convertToPixel({ yAxisIndex: 0 }, 0)) - 4 : height - 26;
  return { left: x(places[0]) - half, width: x(places[1]) - x(places[0]) + 2 * half, height: foot };
}

/** What has to stay the same for a picture to be changed in place: its axes, and how many series of which kind it has. */
function shapeOf(option: Drawing['option']): string {
  const part = option as Record<string, { type?: string; inverse?: boolean } & { type?: string }[]>;
  const axis = (a: unknown) => [(a as { type?: string })?.type, (a as { inverse?: boolean })?.inverse];
  const series = (part.series ?? []) as { type?: string; name?: string; stack?: string }[];
  return JSON.stringify([axis(part.xAxis), axis(part.yAxis), series.map((s) => [s.type, s.name, s.stack])]);
}

/** A drawing without zoom, where its tile has no tools; what opens with a part of its axis keeps the way to the rest. */
const toolsOf = (tile: TileInfo, drawing: Drawing): Drawing =>
  tile.hasTools === false
    ? { ...drawing, plane: undefined, overview: tile.options?.window ? drawing.overview : undefined }
    : drawing;

/** A tile whose lines at measures are where the answer has them; one without a figure is not drawn. */
function withReferences(tile: TileInfo, at: readonly (number | null)[] | null | undefined): TileInfo {
  if (!tile.references?.some((r) => r.measure !== null)) return tile;
  const references = tile.references.flatMap((r, i) => {
    if (r.measure === null) return [r];
    const figure = at?.[i];
    return typeof figure === 'number' ? [{ ...r, at: figure }] : [];
  });
  return { ...tile, references };
}
