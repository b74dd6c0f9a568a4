import { useContext, useLayoutEffect, useRef, useState } from 'react';
import { Still } from '../surroundings';
import type { LegendEntry } from './drawing';
import classes from './legend.module.css';

interface Props {
  title: string;
  entries: readonly LegendEntry[];
  hidden: ReadonlySet<string>;
  onChange: (hidden: ReadonlySet<string>) => void;
  width: number;
  /** The height of what it stands above, in pixels: when that changes, so may the room that it has itself. */
  height: number;
  /** The size of its text, in pixels. */
  size: number;
}

/** So many lines it has before it folds, and where it can't be opened. */
const [linesOpened, linesStill] = [2, 5];

/** The names of series in their colours: each hides and shows its own, by a click or a key; with Alt it stays alone. */
export function Legend({ title, entries, hidden, onChange, width, height, size }: Props) {
  const [isWhole, setWhole] = useState(false);
  const still = useContext(Still);
  const box = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(Number.POSITIVE_INFINITY);
  // biome-ignore lint/correctness/useExhaustiveDependencies: measured anew whenever the picture is of another size
  useLayoutEffect(() => setRoom(linesIn(box.current?.parentElement)), [width, height]);
  const fitting = fitIn(entries, width, size, still === 'grow' ? linesStill : Math.min(linesOpened, room));
  const shown = isWhole ? entries : entries.slice(0, fitting);
  const toggle = (name: string, isAlone: boolean) => {
    if (isAlone) {
      const others = entries.map((e) => e.name).filter((n) => n !== name);
      return onChange(new Set(others.every((o) => hidden.has(o)) && !hidden.has(name) ? [] : others));
    }
    const next = new Set(hidden);
    if (!next.delete(name)) next.add(name);
    // With nothing shown there is nothing to look at.
    onChange(entries.every((e) => next.has(e.name)) ? new Set() : next);
  };
  return (
    <div
      ref={box}
      className={classes.legend}
      data-legend
      data-still={still ?? undefined}
      role="group"
      aria-label={`Legend of ${title}`}
    >
      {shown.map(({ name, ...looks }) => (
        <button
          key={name}
          type="button"
          aria-pressed={!hidden.has(name)}
          title={hidden.has(name) ? `Show ${name}` : `Hide ${name}; with Alt, show it alone`}
          onClick={(e) => toggle(name, e.altKey)}
        >
          <Swatch {...looks} />
          {name}
        </button>
      ))}
      {fitting < entries.length && (
        <button type="button" aria-expanded={isWhole} className={classes.more} onClick={() => setWhole(!isWhole)}>
          {isWhole ? 'fewer' : `${entries.length - fitting} more`}
        </button>
      )}
    </div>
  );
}

/** How many lines of it have room within its part of a tile, which the style sheet gives it. */
const linesIn = (tile: HTMLElement | null | undefined) =>
  tile ? Math.max(1, Math.floor((tile.clientHeight * partOfTile) / lineHeight)) : Number.POSITIVE_INFINITY;

const [partOfTile, lineHeight] = [0.4, 24];

const points: Record<string, string> = {
  circle: 'M7 1a4 4 0 1 1 0 8a4 4 0 1 1 0-8z',
  rect: 'M3 1h8v8h-8z',
  triangle: 'M7 1l5 8h-10z',
  diamond: 'M7 0l4 5l-4 5l-4-5z',
};

/** How a series looks: its colour, and where that tells too little its pattern, its stroke or its shape. */
function Swatch({ colour, mark, pattern }: Omit<LegendEntry, 'name'>) {
  if (!pattern) return <span className={classes.colour} style={{ background: colour }} aria-hidden />;
  const shape = pattern.symbol.replace('empty', '').toLowerCase();
  return (
    <svg className={classes.swatch} viewBox="0 0 14 10" aria-hidden>
      {mark === 'line' ? (
        <path d="M0 5h28" stroke={colour} strokeWidth={2} strokeDasharray={pattern.dash.join(' ')} />
      ) : mark === 'point' ? (
        <path
          d={points[shape]}
          fill={pattern.symbol.startsWith('empty') ? 'none' : colour}
          stroke={colour}
          strokeWidth={1.5}
        />
      ) : (
        <>
          <rect width={14} height={10} fill={colour} />
          <path d={pattern.swatch} stroke="#FFFFFF" strokeWidth={1.6} strokeLinecap="round" fill="none" />
        </>
      )}
    </svg>
  );
}

/** How many entries have room, with some for what tells of the others. */
function fitIn(entries: readonly LegendEntry[], width: number, size: number, lines: number): number {
  if (width === 0) return entries.length;
  const wide = (e: LegendEntry) => Math.min(width, e.name.length * size * 0.58 + size * 2.4);
  let line = 1;
  let used = 0;
  for (const [i, entry] of entries.entries()) {
    if (used + wide(entry) > width) {
      line++;
      used = 0;
      if (line > lines) return Math.max(1, i - 1);
    }
    used += wide(entry);
  }
  return entries.length;
}
