import { useRef } from 'react';

/** A value as it was when nothing moved last: what is built of many parts, or read aloud, follows when the hand rests. */
export function useRested<T>(value: T, isMoving: boolean): T {
  const rested = useRef(value);
  if (!isMoving) rested.current = value;
  return rested.current;
}
