import { label } from '../model/labels';
import { besideOf } from '../model/periods';
import type { PictureProps } from '../pictures/PictureProps';
import classes from './tiles.module.css';

/** What the reader must know beside the figures: what was cut, which periods are partial, whose rows they are. */
export function Notes({ result, rows }: { result: PictureProps['result']; rows: number }) {
  const lines = result.lines;
  const [first, ...others] = result.table.columns;
  // Across a cross table, else along the first column.
  const periods = result.subtotals && !first?.at ? others.filter((c) => c.role === 'group').at(-1) : first;
  const second =
    others[
      besideOf(
        first?.at,
        others.map((c) => c.at),
      )
    ];
  const partial = [
    ...(result.partial ?? []).map((p) => periods && label(p, periods)),
    ...(result.partialPairs ?? []).map(([a, b]) => first && second && `${label(a, first)} ${label(b, second)}`),
  ].filter(Boolean);
  const notes = [
    lines > rows && `The first ${rows.toLocaleString('en-US')} of ${lines.toLocaleString('en-US')} lines.`,
    partial.length > 0 && `Partial: ${partial.join(', ')}.`,
    result.note,
    result.sample && `Of a sample of ${result.sample} % of the rows.`,
    result.restricted && 'Of the rows you may see.',
  ].filter(Boolean);
  return notes.length > 0 && <footer className={classes.foot}>{notes.join(' ')}</footer>;
}
