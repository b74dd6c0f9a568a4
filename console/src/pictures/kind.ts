import type { ComponentType } from 'react';
import { bringType } from '../look/type';
import { apart } from './apart';
import type { PictureProps } from './PictureProps';

/** What the page may ask of a kind of picture. Frames and menus go by this, never by a name. */
export interface PictureKind {
  /** True if it shows no figures and only filters. */
  isControl: boolean;
  /** True if it says itself that there are no rows; else its frame does. */
  saysEmpty: boolean;
  /** True if the parts of a split lie on one another where they add up; along if its members add up one after the other. */
  stacks: boolean | 'along';
  /** True if it needs little room, so that two of it stand one above the other. */
  isSmall: boolean;
  /** Whether it takes all the room that it is given, or has a height of its own. */
  room: 'any' | 'own';
  /**
   * How it stands where nothing scrolls: in its place, in its place but as high as it needs, as lines that may go on on the next
   * page, or over the whole width.
   */
  onPaper: 'place' | 'high' | 'lines' | 'wide';
  /** True if its lines are sorted and filtered where they stand. */
  hasLines: boolean;
  /** True if what draws it is so much that what is drawn by less is to come first. */
  isHeavy: boolean;
  /** Brings what draws it; each kind comes apart from the others. */
  load: () => Promise<unknown>;
  Picture: ComponentType<PictureProps>;
}

/** Declares a kind of picture. */
export function kind(
  load: () => Promise<{ default: ComponentType<PictureProps> }>,
  more: Partial<Omit<PictureKind, 'load' | 'Picture'>> = {},
): PictureKind {
  const { bring, Part } = apart(load, more.isControl);
  return {
    isControl: false,
    isHeavy: false,
    hasLines: false,
    saysEmpty: false,
    stacks: false,
    isSmall: false,
    room: more.isControl ? 'own' : 'any',
    onPaper: 'place',
    ...more,
    load: bring,
    Picture: Part,
  };
}

/** Declares a kind that is drawn on a canvas, with letters: once their type is there. */
export const drawnKind = (load: Parameters<typeof kind>[0], more: Parameters<typeof kind>[1] = {}): PictureKind =>
  kind(
    async () => {
      const [module] = await Promise.all([load(), bringType()]);
      return module;
    },
    { isHeavy: true, ...more },
  );
