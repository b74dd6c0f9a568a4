import { shortNumber, type Written } from '../../model/labels';
import type { FigureColours } from './colours';
import type { DrawingInput } from './drawing';

/** The colours from little to much with their figures, at the right of a picture: it needs 80 pixels there. */
export const scaleLegend = (colours: FigureColours, format: Written, { tokens: t, height }: DrawingInput) => ({
  type: 'continuous',
  min: colours.least,
  max: colours.most === colours.least ? colours.least + 1 : colours.most,
  calculable: false,
  orient: 'vertical',
  right: 0,
  top: 'middle',
  itemHeight: Math.max(40, Math.min(120, height - 70)),
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
});
