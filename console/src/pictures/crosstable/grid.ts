import { type Range, useVirtualizer } from '@tanstack/react-virtual';
import { type CSSProperties, type Key, type RefObject, useEffect, useMemo, useState } from 'react';
import type { Value } from '../../api/client';
import { useMeasured } from '../../look/useSize';
import { bareNumber, formatOf, label } from '../../model/labels';
import { wholeRows } from '../../results/fit';
import { type Cross, type CrossRow, leaves } from './cross';

/** How many columns of figures, and lines, are drawn beyond what is seen, at either side. */
const [beyond, beyondDown] = [1, 2];

/** In so many columns at once they come and go: while they scroll, most frames have nothing to draw. */
const block = 4;

/** The columns in sight and those beside them, in whole blocks. */
const inBlocks = ({ startIndex, endIndex, overscan, count }: Range): number[] => {
  const from = Math.floor(Math.max(0, startIndex - overscan) / block) * block;
  const to = Math.min(count, Math.ceil((endIndex + overscan + 1) / block) * block);
  return Array.from({ length: to - from }, (_, i) => from + i);
};

/** A column of figures: of a member across, or the totals. */
export interface FigureColumn {
  member?: { value: Value };
  figure: number;
}

/** The heading of a column that is drawn. */
export interface Heading {
  key: Key;
  index: number;
  size: number;
  column: FigureColumn;
}

export const isSameMember = (a: { value: Value } | undefined, b: { value: Value } | undefined) =>
  a?.value === b?.value && !a === !b;

/** The columns of figures, those of a member beside one another; the totals last. */
export const columnsOf = (cross: Cross): FigureColumn[] =>
  [...cross.columns.map((c) => ({ value: c.member })), undefined].flatMap((member) =>
    cross.figures.map((_, figure) => ({ member, figure })),
  );

/**
 * What of a table is in sight, and so drawn.
 * @param size The size of its letters, in pixels.
 */
export function useGrid(
  room: RefObject<HTMLDivElement | null>,
  cross: Cross,
  rows: CrossRow[],
  columns: FigureColumn[],
  size: number,
) {
  const wide = useMemo(() => widthsOf(cross, size), [cross, size]);
  const high = Math.round(size * 2.1);
  const vertical = useVirtualizer({
    count: rows.length,
    getScrollElement: () => room.current,
    estimateSize: () => high,
    overscan: beyondDown,
  });
  const horizontal = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => room.current,
    estimateSize: (i) => wide.figures[columns[i]?.figure ?? 0] ?? 80,
    overscan: beyond,
    rangeExtractor: inBlocks,
  });
  // Where rows are another height, as in large type, all is measured anew.
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was measured depends on it
  useEffect(() => vertical.measure(), [vertical, high]);
  const [down, along] = [vertical.getVirtualItems(), horizontal.getVirtualItems()];
  const before = along[0]?.start ?? 0;
  const after = horizontal.getTotalSize() - (along.at(-1)?.end ?? 0);
  // The same for as long as the same columns are drawn.
  const drawn = `${along[0]?.index} ${along.at(-1)?.index} ${horizontal.getTotalSize()}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: of the columns in a row the first and the last tell all
  const headings = useMemo(
    (): Heading[] => along.map((v) => ({ ...v, column: columns[v.index] as FigureColumn })),
    [drawn, columns],
  );
  // Lines are laid out each by itself, so that one that comes while they scroll has none but its own to be measured and drawn. What is
  // laid out so is no table any more to a screen reader but by the roles that it is given.
  const tracks = {
    width: wide.first + horizontal.getTotalSize(),
    '--tracks': [wide.first, before, ...along.map((v) => v.size), after]
      .flatMap((w, i) => (w > 0 || i === 0 ? [`${w}px`] : []))
      .join(' '),
  } as CSSProperties;
  return {
    wide,
    high,
    headings,
    tracks,
    /** Whether there are columns that are not drawn, at either side. */
    before: before > 0,
    after: after > 0,
    down: down.map((v) => v.index),
    body: { height: vertical.getTotalSize(), paddingTop: down[0]?.start ?? 0 },
    scrollTo: (row: number, column: number) => {
      vertical.scrollToIndex(row);
      if (column >= 0) horizontal.scrollToIndex(column);
    },
  };
}

/**
 * How high a table is at most so that its totals cut no line, in pixels; undefined where all of its lines have room.
 * @param frame The room that it may take.
 * @param room What it scrolls in.
 * @param high How high a line is, in pixels.
 */
export function useWholeLines(
  frame: RefObject<HTMLDivElement | null>,
  room: RefObject<HTMLDivElement | null>,
  high: number,
  lines: number,
) {
  const [most, setMost] = useState<number>();
  useMeasured(
    frame,
    ({ offsetHeight: free }) => {
      const inner = room.current;
      const ends = [...(inner?.querySelectorAll<HTMLElement>('thead, tfoot') ?? [])];
      if (!inner || free === 0) return;
      const fixed = ends.reduce((sum, e) => sum + e.offsetHeight, inner.offsetHeight - inner.clientHeight);
      setMost(fixed + lines * high <= free ? undefined : wholeRows(free, fixed, high));
    },
    `${high} ${lines}`,
  );
  return most;
}

/** The headings of members over their figures, as far as these are drawn. */
export function spans(headings: { key: Key; column: FigureColumn }[], figures: number) {
  const all: { key: string; column: FigureColumn; span: number }[] = [];
  for (const { key, column } of headings) {
    const last = all.at(-1);
    if (last && isSameMember(last.column.member, column.member) && last.span < figures) last.span++;
    else all.push({ key: `over ${key}`, column, span: 1 });
  }
  return all;
}

/** How much room a text in letters of a size takes at most, with what is around it, in pixels. */
export const widthOf = (text: string, size: number) => text.length * size * 0.58 + 18;

/** How wide the column of the names and those of the figures are, in pixels, for letters of a size. */
export interface Widths {
  size: number;
  first: number;
  figures: number[];
}

/** How wide columns are, so that the longest of what stands in them has room, in pixels. */
function widthsOf(cross: Cross, size: number): Widths {
  const wide = (text: string) => widthOf(text, size);
  const several = cross.figures.length > 1;
  const names = cross.columns.map((c) => label(c.member, cross.across));
  const longest = (texts: string[]) => Math.max(0, ...texts.map(wide));
  return {
    size,
    first: Math.min(
      260,
      Math.max(
        longest([cross.down.map((d) => d.title).join(' › ')]),
        ...cross.rows
          .flatMap((r) => [r, ...leaves(r)])
          .map((r) => {
            const depth = r.path.length - 1;
            return wide(label(r.path[depth], cross.down[depth] as Cross['down'][number])) + depth * size * 1.2 + 16;
          }),
      ),
    ),
    figures: cross.figures.map((f, i) => {
      const figures = [cross.total, ...cross.columns.map((c) => c.totals)].map((x) => bareNumber(x[i], f));
      const heading = several ? [`${f.title}, ${formatOf(f).unit}`] : names;
      return Math.max(56, Math.min(180, longest([...figures, ...heading])));
    }),
  };
}
