import './controls.css';
import { Select } from '@mantine/core';
import { memo, useState } from 'react';
import type { Value } from '../../api/client';
import { periods } from '../../model/parameters';
import { rangeNow } from '../../model/periodSpan';
import { instant, withRange } from '../../model/selections';
import classes from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';
import { DayInput } from './DayInput';

/** A day so many days later. */
export const plus = (day: string, days: number): string => {
  const at = new Date(`${day}T00:00:00Z`);
  at.setUTCDate(at.getUTCDate() + days);
  return at.toISOString().slice(0, 10);
};

/** Ends as the viewer types them, and the picked ones beside which they were typed. */
interface Typed {
  beside: string;
  from: string;
  to: string;
}

/** Exact ends of a range of dates, or a named period; drawn anew only when what is picked is another. */
export const RangeEnds = memo(function RangeEnds({
  selection,
  onSelect,
  weekStarts,
}: Pick<PictureProps, 'selection' | 'onSelect' | 'weekStarts'>) {
  const range = rangeNow(selection, weekStarts);
  const day = (v: string | number | null | undefined) =>
    v === null || v === undefined ? '' : instant(String(v)).slice(0, 10);
  const from = day(range?.from);
  const to = range?.to ? plus(day(range.to), instant(String(range.to)).endsWith('T00:00:00') ? -1 : 0) : '';
  // Both ends as typed: one may for a moment lie beyond the other, and is then taken over with it. What is picked goes before.
  const [last, setTyped] = useState<Typed>();
  const beside = `${from} ${to}`;
  const typed = last?.beside === beside ? last : { from, to };
  const isOff = typed.from !== '' && typed.to !== '' && typed.from > typed.to;
  const set = (next: { from: string; to: string }) => {
    setTyped({ beside, ...next });
    const isWhole = [next.from, next.to].every((d) => d === '' || /^[12]\d{3}-\d\d-\d\d$/.test(d));
    if (!isWhole || (next.from && next.to && next.from > next.to)) return;
    onSelect(
      withRange(
        selection,
        next.from || next.to ? { from: next.from || null, to: next.to ? plus(next.to, 1) : null } : undefined,
        selection?.each,
      ),
    );
  };
  return (
    <div className={classes.ends}>
      <DayInput
        label="From"
        weekStarts={weekStarts}
        value={typed.from}
        onChange={(from) => set({ from, to: typed.to })}
      />
      <DayInput
        label="To"
        weekStarts={weekStarts}
        value={typed.to}
        error={isOff ? 'Ends before it begins.' : undefined}
        onChange={(to) => set({ from: typed.from, to })}
      />
      <PeriodChoice period={selection?.period} each={selection?.each} onSelect={onSelect} />
    </div>
  );
});

/** A named period to be chosen: built of many parts, so it is drawn anew only when another is picked. */
const PeriodChoice = memo(function PeriodChoice({
  period,
  each,
  onSelect,
}: Pick<PictureProps, 'onSelect'> & { period?: string; each?: Value[] }) {
  return (
    <Select
      size="xs"
      aria-label="Period"
      placeholder="Period"
      clearable
      data={period && !periods.includes(period) ? [period, ...periods] : periods}
      value={period ?? null}
      onChange={(chosen) => onSelect(chosen ? { members: [], period: chosen, ...(each ? { each } : {}) } : undefined)}
    />
  );
});
