import type { CSSProperties } from 'react';
import type { Tokens } from '../../look/tokens';
import { legible, onColour, onScale } from './colours';

/** How the cells of a column are drawn; undefined for plain ones. */
export function cellsOf(drawn: string | undefined, values: readonly unknown[], t: Tokens) {
  const known = values.filter((v): v is number => typeof v === 'number');
  if (drawn === undefined || known.length === 0) return undefined;
  const [least, most] = [Math.min(...known), Math.max(...known)];
  const longest = Math.max(...known.map(Math.abs));
  return (value: unknown): CSSProperties | undefined => {
    if (typeof value !== 'number') return undefined;
    if (drawn === 'bar') {
      const share = longest === 0 ? 0 : (100 * Math.abs(value)) / longest;
      // A negative figure has the colour of what falls short.
      const colour = `color-mix(in srgb, ${value < 0 ? t.danger : t.accent} 28%, transparent)`;
      return { background: `linear-gradient(90deg, ${colour} ${share.toFixed(1)}%, transparent 0)` };
    }
    const colour = legible(onScale(most === least ? 0 : (value - least) / (most - least), t), t);
    return { background: colour, color: onColour(colour, t) };
  };
}
