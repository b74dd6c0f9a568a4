import { type KeyboardEvent, type RefObject, useMemo, useRef, useState } from 'react';
import { hasPick, isPicked, type Member, toggle, toggleAll } from '../../model/selections';
import type { PictureProps } from '../PictureProps';
import { type Cross, type CrossRow, leaves, rowKey } from './cross';
import type { FigureColumn } from './grid';

/** What a line and its cells bring about. */
export interface Actions {
  fold: (row: CrossRow) => void;
  pick: (row: CrossRow, column?: FigureColumn) => void;
  /** The keyboard is on a cell; on the name of its line at column −1. */
  reach: (place: Place) => void;
  byKey: (event: KeyboardEvent) => void;
}

interface Place {
  row: number;
  column: number;
}

/** What is in the table that something is done to. */
interface Acted extends Pick<PictureProps, 'tile' | 'selection' | 'onSelect'> {
  cross: Cross;
  rows: CrossRow[];
  columns: FigureColumn[];
  room: RefObject<HTMLDivElement | null>;
  scrollTo: (row: number, column: number) => void;
  fold: (row: CrossRow) => void;
}

/** @returns Where the keyboard is, and what can be done: the same for as long as the table stands, so that what only scrolls is not drawn anew. */
export function useActions(on: Acted): { at: Place; actions: Actions } {
  const { tile, selection, onSelect, cross, rows, columns, room, scrollTo, fold } = on;
  const [at, reach] = useState<Place>({ row: 0, column: 0 });

  const pick = (row: CrossRow, column?: FigureColumn) => {
    const members = membersOf(cross, row, column);
    const [only] = members;
    if (members.length === 1 && only) onSelect(toggle(selection, only, tile.pick));
    else if (tile.pick === 'many') onSelect(toggleAll(selection, members));
  };

  function byKey(event: KeyboardEvent) {
    const step = steps[event.key];
    const row = rows[at.row];
    if (step) {
      event.preventDefault();
      const next = {
        row: Math.max(0, Math.min(rows.length - 1, at.row + step[0])),
        column: Math.max(-1, Math.min(columns.length - 1, at.column + step[1])),
      };
      reach(next);
      scrollTo(next.row, next.column);
      requestAnimationFrame(() =>
        room.current?.querySelector<HTMLElement>(`[data-at="${next.row} ${next.column}"]`)?.focus(),
      );
    } else if (row && (event.key === 'Enter' || event.key === ' ')) {
      event.preventDefault();
      if (at.column < 0 && row.children.length > 0) fold(row);
      else if (tile.pick !== 'none') pick(row, columns[at.column]);
    }
  }

  const latest = useRef<Actions>(undefined);
  latest.current = { fold, pick, reach, byKey };
  const actions = useMemo(
    (): Actions => ({
      fold: (row) => latest.current?.fold(row),
      pick: (row, column) => latest.current?.pick(row, column),
      reach: (place) => latest.current?.reach(place),
      byKey: (event) => latest.current?.byKey(event),
    }),
    [],
  );
  return { at, actions };
}

const steps: Record<string, [number, number]> = {
  ArrowDown: [1, 0],
  ArrowUp: [-1, 0],
  ArrowRight: [0, 1],
  ArrowLeft: [0, -1],
};

/** Whether a cell, or a whole line, is picked; undefined where nothing is. */
export const useChosen = (cross: Cross, selection: PictureProps['selection']) =>
  useMemo(
    () =>
      hasPick(selection)
        ? (row: CrossRow, column?: FigureColumn) => {
            const members = membersOf(cross, row, column);
            return members.length > 0 && members.every((m) => isPicked(selection, m));
          }
        : undefined,
    [selection, cross],
  );

/** With more rows than this, those of several levels begin folded. */
const unfolded = 40;

/** The rows that are folded, by their keys, and what folds or unfolds one. */
export function useFolded(cross: Cross, seen: (folded: ReadonlySet<string>) => CrossRow[]) {
  const [folded, setFolded] = useState<ReadonlySet<string>>(
    () => new Set(seen(new Set()).length > unfolded ? cross.rows.map(rowKey) : []),
  );
  const fold = (row: CrossRow) => {
    const next = new Set(folded);
    if (!next.delete(rowKey(row))) next.add(rowKey(row));
    setFolded(next);
  };
  return { folded, fold };
}

/** What is picked with a cell, or with a whole line. */
const membersOf = (cross: Cross, row: CrossRow, column?: FigureColumn): Member[] =>
  leaves(row).flatMap((leaf) =>
    (column?.member ? [column.member.value] : cross.columns.map((c) => c.member))
      .filter((m) => cross.cell(leaf.path, m))
      .map((m) => [...leaf.path, m]),
  );
