import { type KeyboardEvent, memo, useId, useRef, useState } from 'react';
import classes from '../../tiles/tiles.module.css';

/** How many times as much is shown after a key; 0 for what it opens with. */
const factors: Record<string, number> = { '+': 0.8, '-': 1.25, '0': 0 };

/** So many marks are listed at once. */
const mostListed = 2_000;

/** A mark of a chart as something to pick. */
export interface Pickable {
  key: string;
  text: string;
  picked: boolean;
  /** @param allBut True to mean all but these. */
  pick: (allBut?: boolean) => void;
}

/**
 * The marks of a chart as a list: what a screen reader reads, and where the keyboard picks.
 * It is seen only while the keyboard is on it.
 */
export const PickList = memo(function PickList({
  summary,
  marks,
  many,
  onActive,
  onOpen,
  onExtend,
  onZoom,
}: {
  summary: string;
  marks: Pickable[];
  many: boolean;
  onActive: (at: number | undefined) => void;
  /** Opens the level below a mark: Alt with the arrow down. */
  onOpen?: (at: number) => void;
  /** Picks a range from one mark to another: Shift with the arrows. */
  onExtend?: (from: number, to: number) => void;
  /** Shows less of the axis around a mark, larger, or more of it: plus and minus; 0 leads back. */
  onZoom?: (factor: number, at: number) => void;
}) {
  const id = useId();
  const [active, setActive] = useState(0);
  const at = Math.min(active, marks.length - 1);
  const anchor = useRef(at);
  // Of very many only those around the one that the keyboard is on are there.
  const from = Math.max(0, Math.min(marks.length - mostListed, at - mostListed / 2));

  function go(to: number) {
    const next = Math.max(0, Math.min(marks.length - 1, to));
    setActive(next);
    onActive(next);
  }

  function byKey(event: KeyboardEvent) {
    const steps: Record<string, number> = {
      ArrowRight: at + 1,
      ArrowDown: at + 1,
      ArrowLeft: at - 1,
      ArrowUp: at - 1,
      Home: 0,
      End: marks.length - 1,
    };
    const to = steps[event.key];
    if (onOpen && event.altKey && event.key === 'ArrowDown') onOpen(at);
    else if (onZoom && factors[event.key] !== undefined) onZoom(factors[event.key] as number, at);
    else if (to !== undefined) {
      const next = Math.max(0, Math.min(marks.length - 1, to));
      if (onExtend && event.shiftKey) onExtend(anchor.current, next);
      else anchor.current = next;
      go(to);
    } else if (event.key === 'Enter' || event.key === ' ') marks[at]?.pick(event.altKey);
    else return;
    event.preventDefault();
  }

  return (
    <>
      <ul
        className={classes.pickList}
        role="listbox"
        aria-label={summary}
        aria-multiselectable={many}
        aria-activedescendant={marks[at] ? `${id}-${at}` : undefined}
        tabIndex={0}
        onKeyDown={byKey}
        onFocus={() => onActive(at)}
        onBlur={() => onActive(undefined)}
      >
        {marks.slice(from, from + mostListed).map((mark, i) => (
          <li
            key={mark.key}
            id={`${id}-${from + i}`}
            role="option"
            aria-selected={mark.picked}
            {...(marks.length > mostListed ? { 'aria-setsize': marks.length, 'aria-posinset': from + i + 1 } : {})}
          >
            {mark.text}
          </li>
        ))}
      </ul>
      <div className={classes.activeMark} aria-hidden>
        {marks[at]?.text}
      </div>
    </>
  );
});
