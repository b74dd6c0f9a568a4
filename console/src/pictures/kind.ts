import { type ComponentType, lazy } from 'react';
import type { PictureProps } from './PictureProps';

/** What the page may ask of a kind of picture. Frames and menus go by this, never by a name. */
export interface PictureKind {
  /** True if it shows no figures and only filters. */
  isControl: boolean;
  /** False for words, which are over no data. */
  hasData: boolean;
  /** True if it says itself that there are no rows; else its frame does. */
  saysEmpty: boolean;
  /** True if the parts of a split lie on one another where they add up. */
  stacks: boolean;
  /** True if it needs little room, so that two of it stand one above the other. */
  isSmall: boolean;
  /** Brings what draws it; each kind comes apart from the others. */
  load: () => Promise<unknown>;
  Picture: ComponentType<PictureProps>;
}

/** Declares a kind of picture. */
export function kind(
  load: () => Promise<{ default: ComponentType<PictureProps> }>,
  more: Partial<Omit<PictureKind, 'load' | 'Picture'>> = {},
): PictureKind {
  return {
    isControl: false,
    hasData: true,
    saysEmpty: false,
    stacks: false,
    isSmall: false,
    ...more,
    load,
    Picture: lazy(load),
  };
}
