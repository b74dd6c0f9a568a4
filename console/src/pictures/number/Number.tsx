import type { CSSProperties } from 'react';
import { formatOf, label, writeNumber } from '../../model/labels';
import classes from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';

/** A figure; with a change also its newest period, the step from the one before and the course that led there. */
export default function NumberPicture({ result }: PictureProps) {
  const column = result.table.columns[0];
  const value = result.table.values[0]?.[0] as number | string | null | undefined;
  const change = result.change;
  if (!column) return null;
  if (value === null || value === undefined)
    return <p className={classes.message}>No rows meet the filters, so there is no figure.</p>;
  const format = formatOf(column);
  const text = typeof value === 'number' ? writeNumber(value, { ...format, unit: '' }) : label(value, column);
  // A unit is half as large as its figure.
  const signs = Math.max(3, text.length + (format.unit ? 0.5 + format.unit.length / 2 : 0));
  return (
    <div className={classes.number}>
      <div className={classes.numberRow}>
        <div>
          <div
            className={classes.figure}
            data-figure
            data-course={change ? true : undefined}
            style={{ '--signs': signs } as CSSProperties}
          >
            {text} <small>{format.unit}</small>
          </div>
          {change && (
            <div
              className={classes.period}
              title={change.isPartial ? `${change.span}, against the same span of ${change.earlierPeriod}` : undefined}
            >
              {change.period}
              {change.isPartial && ' so far'} · <Step relative={change.relative} /> on{' '}
              {change.isPartial && 'the same span of '}
              <span className={classes.together}>{change.earlierPeriod}</span>
            </div>
          )}
          {result.sample && <div className={classes.period}>Of a sample of {result.sample} % of the rows.</div>}
          {result.restricted && <div className={`${classes.period} ${classes.whose}`}>Of the rows you may see.</div>}
        </div>
        {change && <Course values={change.course as (number | null)[]} partial={change.isPartial} />}
      </div>
    </div>
  );
}

function Step({ relative }: { relative: number | null | undefined }) {
  if (relative === null || relative === undefined)
    return <span className={classes.change}>no change can be given</span>;
  const text = writeNumber(relative, { decimals: 1, factor: 100, unit: '%' });
  return (
    <span className={`${classes.change} ${classes.together}`}>
      {relative > 0 ? `▲ +${text}` : relative < 0 ? `▼ ${text}` : text}
    </span>
  );
}

/** The last periods as a line; a partial last one is dotted. */
function Course({ values, partial }: { values: (number | null)[]; partial: boolean }) {
  const known = values.filter((v): v is number => v !== null && v !== undefined);
  if (known.length < 3) return null;
  const [least, most] = [Math.min(...known), Math.max(...known)];
  const x = (i: number) => 3 + (i * 104) / (values.length - 1);
  const y = (v: number) => (most === least ? 18 : 33 - ((v - least) * 30) / (most - least));
  const point = (i: number) => {
    const v = values[i];
    return v === null || v === undefined ? null : `${x(i).toFixed(1)},${y(v).toFixed(1)}`;
  };
  const last = values.length - 1;
  const until = partial ? last - 1 : last;
  const path = values.map((_, i) => (i <= until ? point(i) : null)).filter(Boolean);
  return (
    <svg className={classes.spark} viewBox="0 0 110 36" aria-hidden preserveAspectRatio="none">
      <polyline
        points={path.join(' ')}
        fill="none"
        stroke="var(--accent)"
        strokeWidth="1.5"
        vectorEffect="non-scaling-stroke"
      />
      {partial && (
        <polyline
          points={[point(last - 1), point(last)].filter(Boolean).join(' ')}
          fill="none"
          stroke="var(--accent)"
          strokeWidth="1.5"
          strokeDasharray="2 3"
          vectorEffect="non-scaling-stroke"
        />
      )}
    </svg>
  );
}
