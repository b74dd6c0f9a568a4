import { shortNumber, type Written } from '../../model/labels';
import type { FigureColours } from './colours';
import type { DrawingInput } from './drawing';

/** What the library leaves free beyond each of its figures, in pixels. */
const edge = 8;

/** The colours from little to much with their figures, at the right of a picture: it needs 80 pixels there, in larger type so much more. */
export function scaleLegend(colours: FigureColours, format: Written, { tokens: t, height }: DrawingInput) {
  // Its figures stand above and below it, and all of it above the line of what may be written along the lower edge.
  const [figures, line] = [2 * (t.size + 10 + edge), t.size + 14];
  const long = Math.max(40, Math.min(120, height - figures - line));
  return {
    type: 'continuous',
    min: colours.least,
    max: colours.most === colours.least ? colours.least + 1 : colours.most,
    calculable: false,
    orient: 'vertical',
    right: 0,
    top: Math.max(0, Math.min((height - long - figures) / 2, height - line - long - figures)),
    itemHeight: long,
    itemWidth: 12,
    precision: 4,
    inRange: { color: [...colours.along] },
    text: [colours.most, colours.least].map((v) => {
      const whole = shortNumber(v, format);
      // A unit that has no room stands in the tip.
      return whole.length * t.size * 0.6 > 76 * t.scale ? shortNumber(v, { ...format, unit: '' }) : whole;
    }),
    textStyle: { color: t.quiet, fontSize: t.size },
    hoverLink: false,
  };
}
