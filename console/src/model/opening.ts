import type { Schemas } from '../api/client';
import type { ToldNames } from './names';
import type { Selections } from './selections';

/** What a viewer keeps: with these picks and parameters the dashboard opens for them. */
export interface Kept {
  selections: Selections;
  /** The parameters as an address carries them; null if none. */
  set: string | null;
  /** What was kept and is not the viewer's to see any more: sentences without the values. */
  dropped: string[];
  names: ToldNames;
}

/** Each sentence once. */
export const distinct = (sentences: string[]) => [...new Set(sentences)];

/** What was left out of what a viewer was to see, in sentences without the values. */
export const leftOut = (dropped: Schemas['DroppedPick'][]): string[] =>
  distinct(
    dropped.map((d) => {
      const one = d.count === 1;
      return `${one ? 'A value' : `${d.count} values`} picked on ${d.tileTitle ?? 'a tile'} ${one ? 'was' : 'were'} left out: not among the rows you may see.`;
    }),
  );
