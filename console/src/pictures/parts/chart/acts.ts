import type { TileInfo, Value } from '../../../api/client';
import {
  open,
  type PickedRange,
  type Selection,
  toggle,
  toggleAll,
  toggleRest,
  withRange,
} from '../../../model/selections';
import type { PictureProps } from '../../PictureProps';
import type { Drawing, Mark } from '../drawing';
import { isSameRange, rangeOf } from './ranges';

/** What a picture can be done to. */
export interface Acts {
  /** Picks a mark, or lets it go. @param allBut True to pick all others. */
  pick: (mark: Mark, allBut?: boolean) => void;
  /** Picks all members that something stands for together. */
  pickAll: (marks: Mark[], allBut?: boolean) => void;
  /** Opens the level below a mark. */
  open: (mark: Mark) => void;
  /** Picks the range from one place along the axis to another. */
  extend: (from: number, to: number) => void;
  /** Picks a range. @param isLive True while the hand still moves. */
  range: (range: PickedRange, isLive?: boolean) => void;
  /** Picks these marks alone. */
  only: (marks: Mark[]) => void;
}

/** @param range The range that is picked in this picture now. */
export function actsOf(
  { pick, levels }: Pick<TileInfo, 'pick' | 'levels'>,
  drawing: Drawing,
  { selection, panel, onSelect }: Pick<PictureProps, 'selection' | 'onSelect'> & { panel?: [Value] },
  range: PickedRange | undefined,
): Acts {
  const canRange = isRanged({ pick }, drawing);
  const memberOf = (mark: Mark) => mark.member;
  const select = (next: Selection | undefined, allBut: boolean) =>
    onSelect(next && allBut ? { ...next, exclude: true } : next);
  const setRange = (next: PickedRange | undefined, isLive?: boolean) =>
    onSelect(withRange(selection, next, panel), isLive);
  return {
    pick: (mark, allBut = false) => {
      if (canRange) {
        const at = drawing.marks.indexOf(mark);
        const next = rangeOf(drawing, at, at);
        setRange(isSameRange(range, next) ? undefined : next);
        return;
      }
      const shown = drawing.marks.filter((m) => !m.isRest).map(memberOf);
      select(mark.isRest ? toggleRest(selection, shown, pick) : toggle(selection, mark.member, pick), allBut);
    },
    pickAll: (marks, allBut = false) => {
      // Where one member is picked at a time, what stands for several is nothing to pick.
      if (pick !== 'many') return;
      const members = marks.filter((m) => !m.isRest).map(memberOf);
      select(toggleAll(selection, members), allBut);
    },
    open: (mark) => {
      if (!mark.isRest && (selection?.path?.length ?? 0) < levels.length - 1)
        onSelect(open(selection, mark.member[0] ?? null));
    },
    extend: (from, to) => setRange(rangeOf(drawing, Math.min(from, to), Math.max(from, to))),
    range: setRange,
    only: (marks) => onSelect(marks.length > 0 ? { ...selection, members: marks.map(memberOf) } : undefined),
  };
}

/** True where ranges are picked along an axis. */
export const isRanged = ({ pick }: Pick<TileInfo, 'pick'>, drawing: Drawing): boolean =>
  pick === 'range' && drawing.along !== undefined;
