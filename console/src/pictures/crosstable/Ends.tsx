import type { Value } from '../../api/client';
import { bareNumber, formatOf, label } from '../../model/labels';
import type { Cross, CrossSort } from './cross';
import classes from './crosstable.module.css';
import { type FigureColumn, type Heading, isSameMember, spans } from './grid';
import { gap } from './Line';

/** The columns that are drawn, and whether there are others beside them. */
interface Drawn {
  cross: Cross;
  headings: Heading[];
  before: boolean;
  after: boolean;
}

interface HeadProps extends Drawn {
  /** Members across that are periods of which there is only a part. */
  partial: Value[];
  sort: CrossSort | undefined;
  onSort: (sort: CrossSort | undefined) => void;
}

const nameOf = (cross: Cross, { member }: FigureColumn) => (member ? label(member.value, cross.across) : 'All');

/** The headings: members across, and below them, where there are several, their figures. Each sorts. */
export function Head({ cross, headings, before, after, partial, sort, onSort }: HeadProps) {
  const several = cross.figures.length > 1;
  const isPartial = ({ member }: FigureColumn) => member !== undefined && partial.includes(member.value);
  return (
    <thead role="rowgroup">
      {several && (
        <tr role="row">
          <th role="columnheader" className={classes.first} scope="col">
            {cross.across.title}
          </th>
          {gap(before)}
          {spans(headings, cross.figures.length).map(({ column, span, key }) => (
            <th
              key={key}
              role="columnheader"
              scope="colgroup"
              colSpan={span}
              style={{ gridColumn: `span ${span}` }}
              className={classes.across}
              data-partial={isPartial(column)}
              title={isPartial(column) ? 'Not the whole period' : undefined}
            >
              {nameOf(cross, column)}
            </th>
          ))}
          {gap(after)}
        </tr>
      )}
      <tr role="row">
        <th role="columnheader" className={classes.first} scope="col" aria-sort="none">
          <button type="button" title="In their own order" onClick={() => onSort(undefined)}>
            {cross.down.map((d) => d.title).join(' › ')}
          </button>
        </th>
        {gap(before)}
        {headings.map(({ key, index, column }) => {
          const isSorted = sort?.figure === column.figure && isSameMember(sort.member, column.member);
          const figure = cross.figures[column.figure] as Cross['figures'][number];
          const unit = formatOf(figure).unit;
          return (
            <th
              key={key}
              role="columnheader"
              scope="col"
              aria-colindex={index + 2}
              data-partial={!several && isPartial(column)}
              aria-sort={isSorted ? (sort.down ? 'descending' : 'ascending') : 'none'}
            >
              <button
                type="button"
                onClick={() => onSort(isSorted && !sort.down ? undefined : { ...column, down: !isSorted })}
              >
                {several ? `${figure.title}${unit ? `, ${unit}` : ''}` : nameOf(cross, column)}
                {isSorted && (sort.down ? ' ↓' : ' ↑')}
              </button>
            </th>
          );
        })}
        {gap(after)}
      </tr>
    </thead>
  );
}

/** The totals of what stands across. */
export function Foot({ cross, headings, before, after }: Drawn) {
  return (
    <tfoot role="rowgroup">
      <tr role="row">
        <th role="rowheader" scope="row" className={classes.first}>
          Total
        </th>
        {gap(before)}
        {headings.map(({ key, column: { member, figure } }) => {
          const of = member ? cross.columns.find((c) => c.member === member.value)?.totals : cross.total;
          return (
            <td key={key} role="gridcell" data-total={!member}>
              {bareNumber(of?.[figure] ?? null, cross.figures[figure] as Cross['figures'][number])}
            </td>
          );
        })}
        {gap(after)}
      </tr>
    </tfoot>
  );
}
