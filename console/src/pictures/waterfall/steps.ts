import { allOthers, formatOf, label, shortNumber } from '../../model/labels';
import type { DrawingInput, Parts } from '../parts/drawing';
import { runningEnds } from '../parts/scale';

/** A bar between two figures. */
export interface Step {
  name: string;
  from: number;
  to: number;
  /** The line of the result; none for the start and the end. */
  row?: number;
}

export const changeOf = (s: Step): number => s.to - s.from;
export const lowerOf = (s: Step): number => Math.min(s.from, s.to);
export const upperOf = (s: Step): number => Math.max(s.from, s.to);

/** Steps that add up from a start to an end. */
export interface Steps {
  steps: Step[];
  /** Where each begins, and where the last one ends. */
  ends: number[];
  /** The figure that they add up to, and that which they begin at if that is another. */
  first: Parts['figures'][number];
  second: Parts['figures'][number] | undefined;
  /** True where only leading members are shown and no rest, so that the sum is one of those shown. */
  isCut: boolean;
}

/** @returns Undefined for a result without what is needed. */
export function stepsOf({ tile }: DrawingInput, parts: Parts): Steps | undefined {
  const [by] = parts.groups;
  const [first, second] = parts.figures;
  if (!by || !first) return undefined;
  const ends = runningEnds(first.values, second?.values);
  const last = ends[ends.length - 1] ?? 0;
  const isCut = tile.isTop === true && !tile.hasRest;
  const steps = ends.slice(1).map(
    (to, row): Step => ({
      name: parts.isRest(row) ? allOthers : label(parts.group(0)[row] ?? null, by),
      from: ends[row] ?? 0,
      to,
      row,
    }),
  );
  const start = second ? [{ name: first.column.title, from: 0, to: ends[0] ?? 0 }] : [];
  const end = { name: second ? second.column.title : isCut ? 'Sum of those shown' : 'Sum', from: 0, to: last };
  return { steps: [...start, ...steps, end], ends, first, second, isCut };
}

/** The figure of a step as it is written beside its bar: by how much it changes, or what it comes to. */
export function writtenOf(s: Step, { first }: Steps): string {
  const format = { ...formatOf(first.column), unit: '' };
  const change = changeOf(s);
  return s.row === undefined
    ? shortNumber(s.to, format)
    : `${change < 0 ? '\u2212' : '+'}${shortNumber(Math.abs(change), format)}`;
}
