import { type RefObject, useEffect, useEffectEvent, useState } from 'react';
import { follow, type Point, pointIn, tileUnder } from './boxes';

/** Two tiles, one of which drives the other or would. */
export interface Pair {
  driver: string;
  follower: string;
}

/**
 * A line that is drawn from a tile to another, by one drag, by two clicks or by two keys.
 * @param onLine What becomes of it.
 * @returns Where it begins and where the hand is, if one is drawn.
 */
export function useLine(
  layer: RefObject<HTMLElement | null>,
  onAt: (tile: string) => void,
  onLine: (pair: Pair) => void,
) {
  const [from, setFrom] = useState<string>();
  const [hand, setHand] = useState<Point>();
  const at = useEffectEvent(onAt);
  const drawn = useEffectEvent(onLine);
  useEffect(() => {
    if (from === undefined) return;
    return follow(
      (e) => {
        setHand(pointIn(layer.current, e));
        at(tileUnder(e) ?? from);
      },
      (e) => {
        // What is offered beside the lines lies over tiles, and is none.
        if ((e.target as Element).closest('[data-offers]')) return;
        const over = tileUnder(e);
        // Let go where it began, it waits for a click on the other.
        if (over === from) return;
        setFrom(undefined);
        setHand(undefined);
        if (over !== undefined) drawn({ driver: from, follower: over });
      },
    );
  }, [layer, from]);
  return {
    from,
    hand: from === undefined ? undefined : hand,
    leave: () => setFrom(undefined),
    /** A click on the second one ends a line that was begun by a click. @returns False where it does, and none begins. */
    begin: (tile: string): boolean => {
      if (from !== undefined && from !== tile) return false;
      setFrom(tile);
      setHand(undefined);
      return true;
    },
    /** By key: the first tile is where the line begins, the second where it ends. */
    byKey: (tile: string) => {
      if (from === undefined || from === tile) setFrom(from === tile ? undefined : tile);
      else {
        setFrom(undefined);
        onLine({ driver: from, follower: tile });
      }
    },
  };
}
