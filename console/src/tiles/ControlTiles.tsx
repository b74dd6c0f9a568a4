import './controls.css';
import { Checkbox, Radio, RangeSlider, Select, Switch, TextInput } from '@mantine/core';
import { useEffect, useState } from 'react';
import type { Value } from '../api/client';
import { formatOf, label, writeNumber } from '../model/labels';
import { periods } from '../model/parameters';
import { rangeNow } from '../model/periodSpan';
import { instant, isPicked, type PickedRange, rangeLabel, toggle, withRange } from '../model/selections';
import type { PictureProps } from './PictureProps';
import classes from './tiles.module.css';

/** The control of a tile that shows no figures. */
export default function ControlTile(props: PictureProps) {
  switch (props.tile.picture) {
    case 'list':
      return <List {...props} />;
    case 'switch':
      return <YesNo {...props} />;
    case 'slider':
      return <Slider {...props} />;
    case 'dates':
      return <Dates {...props} />;
    default:
      return <Search {...props} />;
  }
}

/** Members to tick, or one of them; "all" is a choice of its own. What is picked and has no rows now stays, marked. */
function List({ tile, result, selection, onSelect }: PictureProps) {
  const column = result.table.columns[0];
  if (!column) return null;
  const values = (result.table.values[0] ?? []) as Value[];
  const gone = (selection?.members ?? []).map((m) => m[0] ?? null).filter((v) => !values.includes(v));
  const options = [...values.map((v) => ({ v, isGone: false })), ...gone.map((v) => ({ v, isGone: true }))];
  const isAll = !selection;
  const Option = tile.pick === 'one' ? Radio : Checkbox;
  return (
    <fieldset className={classes.options} style={{ border: 0, padding: 0, margin: 0 }}>
      <legend className="hidden-visually">{tile.title}</legend>
      {!tile.isRequired && <Option size="xs" label="All" checked={isAll} onChange={() => onSelect(undefined)} />}
      {options.map(({ v, isGone }) => (
        <Option
          key={JSON.stringify(v)}
          size="xs"
          label={`${label(v, column)}${isGone ? ' (no rows now)' : ''}`}
          checked={isPicked(selection, [v])}
          onChange={() => onSelect(toggle(selection, [v], tile.pick))}
        />
      ))}
      {Number(result.lines) > values.length && (
        <span className="quiet">
          The first {values.length.toLocaleString('en-US')} of {Number(result.lines).toLocaleString('en-US')}.
        </span>
      )}
    </fieldset>
  );
}

/** Only rows where it holds, or all. */
function YesNo({ tile, selection, onSelect }: PictureProps) {
  const only = isPicked(selection, [true]);
  return (
    <Switch
      className={classes.control}
      size="sm"
      label={only ? 'Only these' : 'All'}
      aria-label={tile.title}
      checked={only}
      onChange={(e) => onSelect(e.currentTarget.checked ? { members: [[true]] } : undefined)}
    />
  );
}

/** A range of numbers between the least and the greatest of the data. */
function Slider({ tile, result, selection, onSelect }: PictureProps) {
  const column = result.table.columns[0];
  const [first, last] = [result.table.values[0]?.[0], result.table.values[1]?.[0]] as (number | null | undefined)[];
  const picked = selection?.range;
  const ends = (range: PickedRange | undefined, low: number, high: number): [number, number] => [
    Number(range?.from ?? low),
    Number(range?.to ?? high),
  ];
  const [low, high] = [
    Math.min(first ?? 0, Number(picked?.from ?? first ?? 0)),
    Math.max(last ?? 0, Number(picked?.to ?? last ?? 0)),
  ];
  const [shown, setShown] = useState<[number, number]>();
  const now = shown ?? ends(picked, low, high);
  if (!column || first === null || first === undefined || last === null || last === undefined)
    return <p className={classes.message}>No rows meet the filters, so there is no range.</p>;
  const whole = column.kind === 'integer';
  const step = whole ? 1 : Number(((high - low) / 200).toPrecision(1)) || 0.1;
  const text = (v: number) => writeNumber(v, formatOf(column));
  const end = (v: [number, number]) => {
    setShown(undefined);
    onSelect(
      v[0] <= low && v[1] >= high
        ? undefined
        : withRange(selection, { from: v[0] <= low ? null : v[0], to: v[1] >= high ? null : v[1] }),
    );
  };
  return (
    <div className={classes.control}>
      <RangeSlider
        size="sm"
        thumbFromLabel={`${tile.title}, from`}
        thumbToLabel={`${tile.title}, to`}
        min={low}
        max={high === low ? low + step : high}
        step={step}
        minRange={0}
        label={text}
        value={now}
        onChange={setShown}
        onChangeEnd={end}
      />
      <p className="quiet" style={{ margin: '4px 0 0' }}>
        {text(now[0])} to {text(now[1])}
        {picked ? '' : ', all'}
      </p>
    </div>
  );
}

/** From a day to a day, both included, or a period worked out at the time of viewing. */
function Dates({ result, selection, onSelect, weekStarts }: PictureProps) {
  const [first, last] = [result.table.values[0]?.[0], result.table.values[1]?.[0]] as (string | null | undefined)[];
  return (
    <>
      <RangeEnds selection={selection} onSelect={onSelect} weekStarts={weekStarts} />
      <p className="quiet" style={{ margin: '4px 0 0' }}>
        {first && last
          ? `Data from ${rangeLabel({ from: first.slice(0, 10), to: plus(last.slice(0, 10), 1) })}.`
          : 'No rows meet the filters.'}
      </p>
    </>
  );
}

const plus = (day: string, days: number): string => {
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

/** Members that contain a piece of text; taken over when typing pauses. */
function Search({ tile, result, selection, onSelect }: PictureProps) {
  const [typed, setTyped] = useState(selection?.contains ?? '');
  useEffect(() => setTyped(selection?.contains ?? ''), [selection?.contains]);
  useEffect(() => {
    const piece = typed.trim();
    if (piece === (selection?.contains ?? '')) return;
    const timer = setTimeout(() => onSelect(piece ? { members: [], contains: piece } : undefined), 300);
    return () => clearTimeout(timer);
  }, [typed, selection?.contains, onSelect]);
  const members = Number(result.table.values[0]?.[0] ?? 0);
  return (
    <TextInput
      className={classes.control}
      size="sm"
      maxLength={200}
      aria-label={tile.title}
      placeholder={`Search ${members.toLocaleString('en-US')} member${members === 1 ? '' : 's'}`}
      value={typed}
      onChange={(e) => setTyped(e.currentTarget.value)}
    />
  );
}
