import type { Column } from '@tanstack/react-table';
import type { ColumnInfo, Schemas } from '../api/client';
import { type ColumnSort, type LineFilter, linesOf } from '../model/lines';
import { asLine } from './columns';

/** The least and greatest width of a column, and how much wider or narrower one step makes it, in pixels. */
const narrowest = 40;
const widest = 2000;
const step = 40;

/** A width as it is kept. */
export const fittingWidth = (width: number): number => Math.round(Math.min(widest, Math.max(narrowest, width)));

/** A row by its place in the result. */
export interface Row {
  at: number;
}

/** Where and how wide the columns stand, and what sorts and filters its lines, as the viewer has set them. */
export interface Setting {
  order: string[];
  hidden: string[];
  pinned: string[];
  widths: Record<string, number>;
  /** Those that its lines are sorted by, the first before the second. */
  sorted: ColumnSort[];
  /** What its lines have to meet. */
  filters: LineFilter[];
}
export const asPublished: Setting = { order: [], hidden: [], pinned: [], widths: {}, sorted: [], filters: [] };

type TableColumns = Schemas['TableColumns'];

/** The same as a view keeps it, and back. */
export const tableOf = ({ widths, ...lists }: Setting): TableColumns => ({
  ...lists,
  widths: Object.entries(widths).map(([column, width]) => ({ column, width })),
});
export const settingOf = (table: TableColumns | null | undefined): Setting =>
  table
    ? {
        order: table.order ?? [],
        hidden: table.hidden ?? [],
        pinned: table.pinned ?? [],
        widths: Object.fromEntries((table.widths ?? []).map(({ column, width }) => [column, Number(width)])),
        ...linesOf(table),
      }
    : asPublished;

/** What a table does without: never all of its columns, though others than it has now may have stood beside them. */
export function hiddenOf({ hidden }: Setting, columns: readonly string[]): string[] {
  const there = hidden.filter((name) => columns.includes(name));
  return there.length < columns.length ? there : [];
}

/** The columns that are shown, by name: those that stay in sight first, then those that are put in order, then the others as they are. */
export function shownIn(setting: Setting, columns: readonly string[]): string[] {
  const hidden = hiddenOf(setting, columns);
  return [...new Set([...setting.pinned, ...setting.order, ...columns])].filter(
    (name) => columns.includes(name) && !hidden.includes(name),
  );
}

/** What is known of a column beside what the table library keeps. */
export interface Told {
  column: ColumnInfo;
  /** Its place in the result. */
  at: number;
  /** A cell of it as it is written. */
  written: (row: number) => string;
}
export const told = (column: Column<Row>) => column.columnDef.meta as Told;

/** What can be done with a column: where it stands, whether it stays in sight, how wide it is, taking it along. */
export function actsOf({
  column,
  columns,
  shown,
  setting,
  hidden,
  setSetting,
  rows,
  wrap,
}: {
  column: Column<Row>;
  columns: ColumnInfo[];
  shown: Column<Row>[];
  setting: Setting;
  /** Those of its columns that are not shown. */
  hidden: string[];
  setSetting: (change: (setting: Setting) => Setting) => void;
  rows: { original: Row }[];
  wrap: HTMLElement | null;
}): [string, () => void][] {
  const { id } = column;
  const isPinned = setting.pinned.includes(id);
  const names = shown.map((c) => c.id);
  const at = names.indexOf(id);
  const toggled = (part: 'hidden' | 'pinned', name: string) => (s: Setting) => ({
    ...s,
    [part]: s[part].includes(name) ? s[part].filter((n) => n !== name) : [...s[part], name],
  });
  const moved = (by: number) => () =>
    setSetting((s) => {
      const order = [...names, ...s.hidden];
      order.splice(at + by, 0, ...order.splice(at, 1));
      return { ...s, order };
    });
  const sized = (by: number) => () => {
    const now =
      setting.widths[id] ?? wrap?.querySelector<HTMLElement>(`[data-column="${CSS.escape(id)}"]`)?.offsetWidth ?? 120;
    setSetting((s) => ({ ...s, widths: { ...s.widths, [id]: fittingWidth(now + by) } }));
  };
  const copied = (columns: Column<Row>[]) => () =>
    void navigator.clipboard.writeText(
      [
        asLine(columns.map((c) => told(c).column.title)),
        ...rows.map((r) => asLine(columns.map((c) => told(c).written(r.original.at)))),
      ].join('\n'),
    );
  const canMove = (to: number) => names[to] !== undefined && setting.pinned.includes(names[to] ?? '') === isPinned;
  const isSet = JSON.stringify(setting) !== JSON.stringify(asPublished);
  return [
    ...(canMove(at - 1) ? [['Move left', moved(-1)] as [string, () => void]] : []),
    ...(canMove(at + 1) ? [['Move right', moved(1)] as [string, () => void]] : []),
    [isPinned ? 'Let it scroll' : 'Keep it in sight', () => setSetting(toggled('pinned', id))],
    ['Wider', sized(step)],
    ['Narrower', sized(-step)],
    ...(setting.widths[id] === undefined
      ? []
      : [
          [
            'As wide as it needs',
            () =>
              setSetting((s) => ({
                ...s,
                widths: Object.fromEntries(Object.entries(s.widths).filter(([n]) => n !== id)),
              })),
          ] as [string, () => void],
        ]),
    ...(shown.length > 1 ? [['Hide it', () => setSetting(toggled('hidden', id))] as [string, () => void]] : []),
    ...hidden.map((name): [string, () => void] => [
      `Show ${columns.find((c) => c.name === name)?.title ?? name}`,
      () => setSetting(toggled('hidden', name)),
    ]),
    // Browsers let nobody write to the clipboard where the page came without TLS.
    ...(navigator.clipboard
      ? ([
          ['Copy this column', copied([column])],
          ['Copy the table', copied(shown)],
        ] as [string, () => void][])
      : []),
    ...(isSet ? [['Columns as published', () => setSetting(() => asPublished)] as [string, () => void]] : []),
  ];
}
