import { useState } from 'react';
import type { LegendEntry } from './drawing';
import classes from './legend.module.css';

interface Props {
  title: string;
  entries: readonly LegendEntry[];
  hidden: ReadonlySet<string>;
  onChange: (hidden: ReadonlySet<string>) => void;
  width: number;
  /** The size of its text, in pixels. */
  size: number;
}

/** So many lines it has before it folds. */
const lines = 2;

/** The names of series in their colours: each hides and shows its own, by a click or a key; with Alt it stays alone. */
export function Legend({ title, entries, hidden, onChange, width, size }: Props) {
  const [isWhole, setWhole] = useState(false);
  const fitting = fitIn(entries, width, size);
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
    <div className={classes.legend} role="group" aria-label={`Legend of ${title}`}>
      {shown.map(({ name, colour }) => (
        <button
          key={name}
          type="button"
          aria-pressed={!hidden.has(name)}
          title={hidden.has(name) ? `Show ${name}` : `Hide ${name}; with Alt, show it alone`}
          onClick={(e) => toggle(name, e.altKey)}
        >
          <span style={{ background: colour }} aria-hidden />
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

/** How many entries have room, with some for what tells of the others. */
function fitIn(entries: readonly LegendEntry[], width: number, size: number): number {
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
