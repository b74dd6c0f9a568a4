import type { CSSProperties } from 'react';
import type { Tokens } from '../../look/tokens';
import { figureColours, legible, onColour } from './colours';

/** What stands before a figure: which way it goes, where its cells have arrows. */
export const arrowOf = (drawn: string | undefined, value: unknown): string =>
  drawn !== 'arrow' || typeof value !== 'number' ? '' : value > 0 ? '▲ ' : value < 0 ? '▼ ' : '● ';

/** How the cells of a column are drawn; undefined for plain ones. */
export function cellsOf(drawn: string | undefined, values: readonly unknown[], t: Tokens) {
  const known = values.filter((v): v is number => typeof v === 'number');
  if (drawn === undefined || known.length === 0) return undefined;
  const colours = figureColours(known, t, drawn === 'diverging' ? 0 : undefined);
  const longest = Math.max(...known.map(Math.abs));
  return (value: unknown): CSSProperties | undefined => {
    if (typeof value !== 'number') return undefined;
    if (drawn === 'bar') {
      const share = longest === 0 ? 0 : (100 * Math.abs(value)) / longest;
      // A negative figure has the colour of what falls short.
      const colour = `color-mix(in srgb, ${value < 0 ? t.danger : t.accent} 28%, transparent)`;
      return { background: `linear-gradient(90deg, ${colour} ${share.toFixed(1)}%, transparent 0)` };
    }
    // An arrow stands before the figure, in the colour of the text: which way is good is not known.
    if (drawn === 'arrow') return undefined;
    const colour = legible(colours.of(value), t);
    return { background: colour, color: onColour(colour, t) };
  };
}
