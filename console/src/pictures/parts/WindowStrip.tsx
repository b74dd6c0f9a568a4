import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import { moved, type Window, windowAt } from '../../model/window';
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
  onChange: (window: Window | undefined) => void;
}) {
  const { members, names, heights, shown } = overview;
  const count = members.length;
  const track = useRef<HTMLDivElement>(null);
  const drag = useRef<{ what: Handle; x: number; shown: [number, number] }>(undefined);
  const [from, to] = shown;
  const put = (next: [number, number]) => onChange(windowAt(members, next));

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
      onPointerDown={down(what)}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      onKeyDown={byKey(what)}
    />
  );
  const most = Math.max(0, ...heights);
  const isAll = from === 0 && to === count - 1;
  const percent = (place: number) => (100 * place) / count;
  return (
    <div className={classes.strip} role="group" aria-label={`What part of ${title} is shown`}>
      <div ref={track} className={classes.track}>
        <svg className={classes.course} viewBox={`0 0 ${count} 1`} preserveAspectRatio="none" aria-hidden>
          {heights.map((h, i) => (
            <rect key={names[i]} x={i} width={0.9} y={most > 0 ? 1 - h / most : 1} height={most > 0 ? h / most : 0} />
          ))}
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
