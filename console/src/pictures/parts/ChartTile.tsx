import { type ComponentProps, type RefObject, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { TileResult } from '../../api/client';
import { useTokens } from '../../look/look';
import { useRested } from '../../look/useRested';
import { useSize } from '../../look/useSize';
import { isLens } from '../../model/lens';
import { rangeNow } from '../../model/periodSpan';
import { hasPick, isPicked, isRestPicked, liesIn, type PickedRange, type Selection } from '../../model/selections';
import classes from '../../tiles/tiles.module.css';
import { apart } from '../apart';
import type { PictureProps } from '../PictureProps';
import { actsOf, isRanged } from './chart/acts';
import { type Band, bandOf } from './chart/ranges';
import { type Now, useChart, useHovered } from './chart/useChart';
import { useDragging } from './chart/useDragging';
import { undrawn, useDrawing, useSettled } from './chart/useDrawing';
import { useDrawn } from './chart/useDrawn';
import { useZoom } from './chart/useZoom';
import type { Drawing, Drawn } from './drawing';
import type { EChartsType } from './echarts';
import { Legend } from './Legend';
import { useParts } from './libraryParts';
import { PickList } from './PickList';
import { usePixelRatio } from './usePixelRatio';

const none: readonly string[] = [];

const [plain, lined, patterned, both] = [[], ['markers'], ['patterns'], ['markers', 'patterns']] as const;
/** What of the library a picture needs beside the usual: for lines at values, and for patterns. */
const partsFor = (hasLines: boolean, hasPatterns: boolean) =>
  hasLines ? (hasPatterns ? both : lined) : hasPatterns ? patterned : plain;

const { Part: WindowStrip } = apart(async () => ({ default: (await import('./WindowStrip')).WindowStrip }));
const { Part: Panels } = apart(() => import('./Panels'));

/** A chart whose marks can be picked by mouse, touch and keyboard, and read by a screen reader; or one for each member of a field. */
export function ChartTile(props: PictureProps & Drawn) {
  const ratio = usePixelRatio();
  if (props.tile.repeats) return <Panels {...props} Chart={ChartTile} />;
  return <Chart key={ratio} {...props} ratio={ratio} />;
}

function Chart(props: PictureProps & Drawn & { ratio: number }) {
  const { weekStarts, selection, onSelect, onWindow, window: shown, target, boxes, panel, ratio } = props;
  const tokens = useTokens();
  const { ref, width, height } = useSize<HTMLDivElement>();
  const lens = shown && isLens(shown) ? shown : undefined;
  // One of many has only rows of the part that is shown.
  const window = shown && !isLens(shown) && !panel ? shown : undefined;
  const { hidden, hide } = useHidden(props);
  const { tile, drawing, isMoving } = useDrawing(props, { tokens, width, height, hidden, window, lens });
  // A named period is drawn as what it spans now; what lies in the picture of another member is none of this one.
  const here = panel && selection && !liesIn(selection, panel[0]) ? undefined : selection;
  const range = useMemo(() => rangeNow(here, weekStarts), [here, weekStarts]);
  const canRange = isRanged(tile, drawing);
  const canBox = boxes === true && tile.pick === 'many';
  const isPickable = tile.pick !== 'none';
  const acts = actsOf(tile, drawing, { selection, panel, onSelect }, here?.range);
  const overview = drawing.overview ?? props.overview;
  const now = useRef({ acts, drawing, lens, overview });
  now.current = { acts, drawing, lens, overview };

  const canvas = useRef<HTMLDivElement>(null);
  const wasDragged = useRef(false);
  const hasParts = useParts(partsFor((tile.references?.length ?? 0) > 0, tokens.patterns));
  const size = width > 0 && height > 0 && hasParts ? { width, height } : undefined;
  const chart = useChart(canvas, size !== undefined, ratio, { isPickable, canRange, target, wasDragged, now });
  const { isHovered, enter, leave } = useHovered();
  useDrawn(chart, canvas, drawing, isHovered, size);
  const { element: bandElement, band } = useBand(chart, drawing, range, size);
  const { box, isDragging, hears } = useDragging({
    canvas,
    chart,
    drawing,
    acts,
    canRange,
    canBox,
    lens,
    selection,
    range,
    band,
    wasDragged,
    onSelect,
    onWindow,
  });
  const zoom = useZoom(canvas, chart, now, onWindow);
  // What a screen reader reads follows when the hand rests: a list of many marks is no part of the movement.
  const calm = useRested(selection, isDragging);
  const settled = useSettled(drawing);
  const { marks, summary } = useMarks(settled, calm, props.result, props.words, now);
  const { onActive, onOpen, onExtend } = useListActs(chart, now);

  return (
    <>
      {drawing.legend && !panel && (
        <Legend
          title={tile.title}
          entries={drawing.legend}
          hidden={hidden}
          onChange={hide}
          width={width}
          height={height}
          size={tokens.size}
        />
      )}
      <div ref={ref} className={classes.chart}>
        <Canvas
          canvas={canvas}
          summary={summary}
          isMoving={isMoving}
          isTold={settled === drawing}
          takes={{ ranges: canRange, boxes: canBox, picks: isPickable, moves: lens !== undefined }}
          hears={{ onPointerEnter: enter, onPointerLeave: leave, ...hears }}
        />
        {canRange && <div ref={bandElement} className={classes.band} data-band aria-hidden hidden />}
        {box && <div className={classes.box} style={box} aria-hidden />}
        {drawing.note && <p className={classes.note}>{drawing.note}</p>}
        {lens && drawing.plane && (
          <button type="button" className={classes.wayBack} onClick={() => onWindow?.(undefined)}>
            All of it
          </button>
        )}
        {isPickable && settled !== undrawn && (
          <PickList
            summary={summary}
            many={tile.pick !== 'one'}
            marks={marks}
            onActive={onActive}
            onOpen={tile.levels.length > 1 ? onOpen : undefined}
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

/** What a picture takes of hands on it. */
interface Takes {
  ranges: boolean;
  boxes: boolean;
  picks: boolean;
  /** It is drawn near, and can be moved. */
  moves: boolean;
}

/** Where the picture is drawn, and what whoever can't see it is told of it. */
function Canvas({
  canvas,
  summary,
  isMoving,
  isTold,
  takes,
  hears,
}: {
  canvas: RefObject<HTMLDivElement | null>;
  summary: string;
  isMoving: boolean;
  isTold: boolean;
  takes: Takes;
  hears: ComponentProps<'div'>;
}) {
  return (
    <div
      ref={canvas}
      className={classes.canvas}
      data-chart
      role="img"
      data-range={takes.ranges}
      // For whoever waits until it stands as its figures have it.
      data-moving={isMoving || undefined}
      // Once what is read of it is what is drawn.
      data-told={isTold || undefined}
      aria-label={summary}
      style={{
        cursor: takes.ranges || takes.boxes ? 'crosshair' : takes.picks ? 'pointer' : undefined,
        touchAction: takes.ranges ? 'pan-y' : takes.boxes || takes.moves ? 'none' : undefined,
      }}
      {...hears}
    />
  );
}

/** The series that the legend hides; where they are nobody's to keep, they stay hidden when the next answer comes. */
function useHidden({ hidden: given, onHide }: PictureProps) {
  const [own, setOwn] = useState<readonly string[]>(none);
  const names = given ?? own;
  const hidden = useMemo(() => new Set(names), [names]);
  return { hidden, hide: (next: ReadonlySet<string>) => (onHide ?? setOwn)([...next]) };
}

/** The band of a range, which is moved with the hand, past React. @returns Its element, and where it was drawn last. */
function useBand(
  chart: RefObject<EChartsType | undefined>,
  drawing: Drawing,
  range: PickedRange | undefined,
  size: { height: number } | undefined,
) {
  const element = useRef<HTMLDivElement>(null);
  const band = useRef<Band>(undefined);
  const height = size?.height;
  useEffect(() => {
    if (height === undefined || !element.current) return;
    const next = chart.current ? bandOf(chart.current, drawing, range, height) : undefined;
    band.current = next;
    element.current.hidden = next === undefined;
    if (!next) return;
    const { style } = element.current;
    style.transform = `translateX(${next.left}px)`;
    style.width = `${next.width}px`;
    style.height = `${next.height}px`;
  }, [chart, drawing, height, range]);
  return { element, band };
}

/** What can be done to marks from the list of them. */
function useListActs(chart: RefObject<EChartsType | undefined>, now: RefObject<Now>) {
  const onActive = useCallback(
    (at: number | undefined) => {
      chart.current?.dispatchAction({ type: 'downplay' });
      const mark = at === undefined ? undefined : now.current.drawing.marks[at];
      if (mark) chart.current?.dispatchAction({ type: 'highlight', seriesIndex: mark.series, dataIndex: mark.data });
    },
    [chart, now],
  );
  const onOpen = useCallback(
    (at: number) => {
      const mark = now.current.drawing.marks[at];
      if (mark) now.current.acts.open(mark);
    },
    [now],
  );
  const onExtend = useCallback((from: number, to: number) => now.current.acts.extend(from, to), [now]);
  return { onActive, onOpen, onExtend };
}

/** The marks of a picture as lists and screen readers have them, and a sentence about all of them. */
function useMarks(
  drawing: Drawing,
  selection: Selection | undefined,
  { table }: Pick<TileResult, 'table'>,
  words: string,
  now: RefObject<Now>,
) {
  const marks = useMemo(
    () =>
      drawing.marks.map((m) => ({
        key: JSON.stringify([m.member, m.isRest]),
        get text() {
          return m.text;
        },
        picked: hasPick(selection) && (m.isRest ? isRestPicked(selection) : isPicked(selection, m.member)),
        pick: (allBut?: boolean) => now.current.acts.pick(m, allBut),
      })),
    [drawing, selection, now],
  );
  const picked = marks.filter((m) => m.picked).length;
  const by = (table?.columns ?? []).filter((c) => c.role === 'group').map((c) => c.title);
  const summary = `${by.join(' and ')}: ${words}, ${marks.length} marks, ${picked} selected${drawing.summary ? `, ${drawing.summary}` : ''}`;
  return { marks, summary };
}
