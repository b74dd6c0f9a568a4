import { type KeyboardEvent, type PointerEvent, type RefObject, useMemo, useRef } from 'react';
import { type AxisWindow, moved, windowAt } from '../../model/window';
import type { Overview } from './drawing';
import classes from './windowStrip.module.css';

type Handle = 'from' | 'to' | 'part';

/** The whole of an axis, small, with the part of it that is shown: its ends and the part itself are moved by hand or by keys. */
export function WindowStrip({
  title,
  overview,
  opening,
  onChange,
}: {
  title: string;
  overview: Overview;
  /** How many of the last members the picture opens with; left out where it opens with all. */
  opening?: number;
  /** Without a window the picture is as it opens. */
  onChange: (window: AxisWindow | undefined) => void;
}) {
  const { members, names, heights, shown } = overview;
  const count = members.length;
  const [from, to] = shown;
  // Not with every move of the part over it.
  const course = useMemo(() => courseOf(heights), [heights]);
  const track = useRef<HTMLDivElement>(null);
  const hears = useHandles(overview, track, (next) => onChange(windowAt(members, next)));
  const handle = (what: Handle, label: string, at: number, text: string, left: number, width?: number) => (
    <div
      role="slider"
      tabIndex={0}
      className={what === 'part' ? classes.part : classes.end}
      style={{ left: `${left}%`, ...(width === undefined ? {} : { width: `${width}%` }) }}
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={count - 1}
      aria-valuenow={at}
      aria-valuetext={text}
      {...hears(what)}
    />
  );
  const isAll = from === 0 && to === count - 1;
  const percent = (place: number) => (100 * place) / count;
  return (
    <div className={classes.strip} role="group" aria-label={`What part of ${title} is shown`}>
      <div ref={track} className={classes.track}>
        <svg className={classes.course} viewBox={`0 0 ${count} 1`} preserveAspectRatio="none" aria-hidden>
          <path d={course} />
        </svg>
        {handle(
          'part',
          'Place of the part',
          from,
          `${names[from]} to ${names[to]}`,
          percent(from),
          percent(to + 1 - from),
        )}
        {handle('from', 'First shown', from, names[from] ?? '', percent(from))}
        {handle('to', 'Last shown', to, names[to] ?? '', percent(to + 1))}
      </div>
      <button
        type="button"
        className={classes.all}
        onClick={() => onChange(isAll ? undefined : { from: null, to: null })}
        disabled={isAll && opening === undefined}
      >
        {isAll && opening !== undefined ? `Last ${opening}` : 'All'}
      </button>
    </div>
  );
}

/** Bars of some heights beside one another, each one wide, the highest one high. */
function courseOf(heights: number[]): string {
  const most = heights.reduce((a, b) => Math.max(a, b), 0);
  return most > 0 ? heights.map((h, i) => `M${i} 1V${1 - h / most}h0.9V1z`).join('') : '';
}

/** Dragging the part that is shown, or one of its ends, by pointer and by key. */
function useHandles(
  { members, shown }: Overview,
  track: RefObject<HTMLDivElement | null>,
  put: (next: [number, number]) => void,
) {
  const count = members.length;
  const [from, to] = shown;
  const drag = useRef<{ what: Handle; x: number; shown: [number, number] }>(undefined);

  function reach(what: Handle, start: [number, number], by: number): [number, number] {
    if (what === 'part') return moved(start, by, count);
    if (what === 'from') return [Math.max(0, Math.min(start[1] - 1, start[0] + by)), start[1]];
    return [start[0], Math.min(count - 1, Math.max(start[0] + 1, start[1] + by))];
  }

  const down = (what: Handle) => (event: PointerEvent<HTMLElement>) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = { what, x: event.clientX, shown };
  };
  function move(event: PointerEvent<HTMLElement>) {
    const held = drag.current;
    if (!held || !track.current) return;
    const by = Math.round(((event.clientX - held.x) / track.current.clientWidth) * count);
    const next = reach(held.what, held.shown, by);
    if (next[0] !== from || next[1] !== to) put(next);
  }
  const up = () => {
    drag.current = undefined;
  };
  const byKey = (what: Handle) => (event: KeyboardEvent) => {
    const page = Math.max(1, Math.round((to - from + 1) / 2));
    const steps: Record<string, number> = {
      ArrowRight: 1,
      ArrowUp: 1,
      ArrowLeft: -1,
      ArrowDown: -1,
      PageUp: page,
      PageDown: -page,
      Home: -count,
      End: count,
    };
    const by = steps[event.key];
    if (by === undefined) return;
    event.preventDefault();
    put(reach(what, shown, by));
  };
  return (what: Handle) => ({
    onPointerDown: down(what),
    onPointerMove: move,
    onPointerUp: up,
    onPointerCancel: up,
    onKeyDown: byKey(what),
  });
}
