import type { Column } from '@tanstack/react-table';
import type { CSSProperties } from 'react';
import type { ColumnInfo } from '../api/client';
import type { Row, Setting } from './columnActs';
import { filterOf } from './columns';
import classes from './results.module.css';
import type { Beside, TableProps } from './tableProps';

/** How the columns of a table stand beside one another, the same in its headings, its lines and its totals. */
export interface Standing {
  shown: Column<Row>[];
  before: Beside[];
  after: Beside[];
  /** True for a column whose cells are written as figures. */
  isFigure: (column: ColumnInfo) => boolean;
  classOf: (id: string) => string | undefined;
  /** The width, and where it is pinned the place, of a column. */
  styleOf: (id: string) => CSSProperties | undefined;
}

const none: Beside[] = [];

/** @param lefts How far from the left each pinned column stands, in pixels. */
export function standingOf(
  shown: Column<Row>[],
  { before = none, after = none, asked }: TableProps,
  setting: Setting,
  lefts: Record<string, number>,
): Standing {
  return {
    shown,
    before,
    after,
    // Of rows every number is one; of results the numbers by which members are called are none.
    isFigure: (c) => c.role === 'figure' || (asked !== undefined && filterOf(c) === 'number'),
    classOf: (id) => (setting.pinned.includes(id) ? classes.pinned : undefined),
    styleOf: (id) => {
      const width = setting.widths[id];
      const left = lefts[id];
      if (width === undefined && left === undefined) return undefined;
      return {
        ...(width === undefined
          ? {}
          : { width, minWidth: width, maxWidth: width, overflow: 'hidden', textOverflow: 'ellipsis' }),
        ...(left === undefined ? {} : { left }),
      };
    },
  };
}
