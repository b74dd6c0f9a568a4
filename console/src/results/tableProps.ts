import type { SortingState } from '@tanstack/react-table';
import type { CSSProperties, ReactNode } from 'react';
import type { ColumnInfo, Value } from '../api/client';
import type { Lines } from '../model/lines';
import type { Setting } from './columnActs';

/** What lines have to meet, by column. */
export type Filters = { id: string; value: unknown }[];

/** What a table is given to show, and what may be done to it. */
export interface TableProps {
  /** What the table is called. */
  title: string;
  /** Under which name the viewer's order and widths of columns are kept in the browser, where they are kept nowhere else. */
  name: string;
  /** How the columns stand as published. */
  published?: Setting;
  /** Where the viewer's are kept elsewhere: what they are, and what becomes of a change. */
  kept?: { setting: Setting; onSetting: (setting: Setting | undefined) => void };
  /** How its lines are sorted and filtered in this visit, where that outlasts the table: what is said, and what becomes of a change. */
  visit?: { lines?: Partial<Lines>; onLines: (lines: Partial<Lines> | undefined) => void };
  columns: ColumnInfo[];
  values: Value[][];
  weekStarts: string;
  /** False where columns can be sorted by and nothing more. */
  hasTools?: boolean;
  /** Where the service sorts and filters, since not all rows are here: how, and what becomes of a change. */
  asked?: {
    sorting: SortingState;
    onSorting: (sorting: SortingState) => void;
    filters: Filters;
    onFilters: (filters: Filters) => void;
  };
  /** Columns that stand within the cells of others, and have none of their own. */
  without?: ReadonlySet<string>;
  /** How a cell is written; as in a table of figures, the unit in the heading, if left out. */
  write?: (value: Value, column: ColumnInfo, row: number, at: number) => string;
  /** What stands in a cell, if more than it says. */
  cell?: (column: ColumnInfo, at: number, row: number, written: string) => ReactNode;
  cellStyle?: (at: number, row: number) => CSSProperties | undefined;
  /** Columns before and after those of the result. */
  before?: Beside[];
  after?: Beside[];
  /** How rows are picked; left out where they are not. */
  pick?: { toggle: (row: number) => void; isPicked: (row: number) => boolean; hasPick: boolean };
  /** True for a row that is opened. */
  isOpen?: (row: number) => boolean;
  /** The totals of the columns of figures, by the column's place among all. */
  totalOf?: (at: number) => Value;
  /** How many lines a page has; all of them one below the other if left out. */
  page?: number;
  /** What stands below the table. */
  foot?: ReactNode;
}

/** A column that is no column of the result. */
export interface Beside {
  key: string;
  heading: ReactNode;
  className?: string;
  headClassName?: string;
  cell: (row: number) => ReactNode;
}
