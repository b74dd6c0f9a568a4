import '../parts/controls.css';
import { RangeSlider } from '@mantine/core';
import { useState } from 'react';
import { formatOf, writeNumber } from '../../model/labels';
import { type PickedRange, withRange } from '../../model/selections';
import classes from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';

/** A range of numbers between the least and the greatest of the data. */
export default function SliderPicture({ tile, result, selection, onSelect }: PictureProps) {
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
