import type { ColumnInfo, Value } from '../../api/client';
import { allOthers, bareNumber, formatOf, label } from '../../model/labels';
import type { Member } from '../../model/selections';
import { type DrawingInput, partsOf } from '../parts/drawing';

/** A figure on a card. */
export interface Card {
  name: string;
  /** The member that it is of; undefined for a measure over all rows. */
  member?: Member;
  isRest: boolean;
  figure: string;
  unit: string;
  /** Further measures of the member, below its figure. */
  below: { name: string; text: string }[];
}

/** The cards of a result: one for each member, or, where it is grouped by nothing, one for each measure. */
export function cardsOf(table: DrawingInput['table']): Card[] {
  const parts = partsOf(table);
  const [by] = parts.groups;
  const written = (column: ColumnInfo, value: Value | undefined) => ({
    figure: bareNumber(value ?? null, column),
    unit: value === null || value === undefined ? '' : formatOf(column).unit,
  });
  if (!by)
    return parts.figures.map(({ column, values }) => ({
      name: column.title,
      isRest: false,
      ...written(column, values[0]),
      below: [],
    }));
  const [first, ...others] = parts.figures;
  if (!first) return [];
  return Array.from({ length: parts.rows }, (_, row) => {
    const member = parts.group(0)[row] ?? null;
    return {
      name: parts.isRest(row) ? allOthers : label(member, by),
      member: [member],
      isRest: parts.isRest(row),
      ...written(first.column, first.values[row]),
      below: others.map(({ column, values }) => ({ name: column.title, text: label(values[row] ?? null, column) })),
    };
  });
}
