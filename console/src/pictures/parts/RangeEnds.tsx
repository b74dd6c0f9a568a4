import './controls.css';
import { Select, TextInput } from '@mantine/core';
import { useEffect, useState } from 'react';
import { periods } from '../../model/parameters';
import { rangeNow } from '../../model/periodSpan';
import { instant, withRange } from '../../model/selections';
import classes from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';

/** A day so many days later. */
export const plus = (day: string, days: number): string => {
  const at = new Date(`${day}T00:00:00Z`);
  at.setUTCDate(at.getUTCDate() + days);
  return at.toISOString().slice(0, 10);
};

/** Exact ends of a range of dates, or a named period. */
export function RangeEnds({
  selection,
  onSelect,
  weekStarts,
}: Pick<PictureProps, 'selection' | 'onSelect' | 'weekStarts'>) {
  const range = rangeNow(selection, weekStarts);
  const day = (v: string | number | null | undefined) =>
    v === null || v === undefined ? '' : instant(String(v)).slice(0, 10);
  const from = day(range?.from);
  const to = range?.to ? plus(day(range.to), instant(String(range.to)).endsWith('T00:00:00') ? -1 : 0) : '';
  // Both ends as typed: one may for a moment lie beyond the other, and is then taken over with it.
  const [typed, setTyped] = useState({ from, to });
  useEffect(() => setTyped({ from, to }), [from, to]);
  const isOff = typed.from !== '' && typed.to !== '' && typed.from > typed.to;
  const set = (next: { from: string; to: string }) => {
    setTyped(next);
    const isWhole = [next.from, next.to].every((d) => d === '' || /^[12]\d{3}-\d\d-\d\d$/.test(d));
    if (!isWhole || (next.from && next.to && next.from > next.to)) return;
    onSelect(
      withRange(
        selection,
        next.from || next.to ? { from: next.from || null, to: next.to ? plus(next.to, 1) : null } : undefined,
      ),
    );
  };
  return (
    <div className={classes.ends}>
      <TextInput
        size="xs"
        type="date"
        aria-label="From"
        value={typed.from}
        onChange={(e) => set({ ...typed, from: e.currentTarget.value })}
      />
      <TextInput
        size="xs"
        type="date"
        aria-label="To"
        value={typed.to}
        error={isOff ? 'Ends before it begins.' : undefined}
        onChange={(e) => set({ ...typed, to: e.currentTarget.value })}
      />
      <Select
        size="xs"
        aria-label="Period"
        placeholder="Period"
        clearable
        data={selection?.period && !periods.includes(selection.period) ? [selection.period, ...periods] : periods}
        value={selection?.period ?? null}
        onChange={(period) => onSelect(period ? { members: [], period } : undefined)}
      />
    </div>
  );
}
