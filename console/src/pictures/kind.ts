import { type ComponentType, createElement, useEffect, useSyncExternalStore } from 'react';
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
  /** How it stands where nothing scrolls: in its place, as lines that may go on on the next page, or over the whole width. */
  onPaper: 'place' | 'lines' | 'wide';
  /** Brings what draws it; each kind comes apart from the others. */
  load: () => Promise<unknown>;
  Picture: ComponentType<PictureProps>;
}

/** Declares a kind of picture. */
export function kind(
  load: () => Promise<{ default: ComponentType<PictureProps> }>,
  more: Partial<Omit<PictureKind, 'load' | 'Picture'>> = {},
): PictureKind {
  const { bring, Picture } = apart(load);
  return {
    isControl: false,
    saysEmpty: false,
    stacks: false,
    isSmall: false,
    room: more.isControl ? 'own' : 'any',
    onPaper: 'place',
    ...more,
    load: bring,
    Picture,
  };
}

/**
 * A component that comes apart and stands at once when it is there. What suspends instead is held back by React for a third of a
 * second, lest a page flickers; figures are not to wait for that.
 */
function apart(load: () => Promise<{ default: ComponentType<PictureProps> }>) {
  let here: ComponentType<PictureProps> | Error | undefined;
  let coming: Promise<unknown> | undefined;
  const waiting = new Set<() => void>();
  const come = (what: typeof here) => {
    here = what;
    for (const told of waiting) told();
  };
  const bring = () => {
    coming ??= load().then(
      (module) => {
        come(module.default);
        return module;
      },
      (error: unknown) => {
        come(error instanceof Error ? error : new Error(String(error)));
        throw error;
      },
    );
    return coming;
  };
  const wait = (told: () => void) => {
    waiting.add(told);
    return () => waiting.delete(told);
  };
  // biome-ignore lint/correctness/noComponentHookFactories: made once for a kind, not while drawing
  function Picture(props: PictureProps) {
    const shown = useSyncExternalStore(wait, () => here);
    useEffect(() => {
      // What does not come is thrown below, to be told where it is to be drawn.
      bring().catch(() => undefined);
    }, []);
    if (shown instanceof Error) throw shown;
    return shown ? createElement(shown, props) : null;
  }
  return { bring, Picture };
}
