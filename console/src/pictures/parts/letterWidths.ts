/** What a text measures, in pixels. */
export type Measure = (text: string, font: string) => { width: number };

/** The letters whose widths the drawing library asks for one by one, and how many fonts are kept. */
const letters = Array.from({ length: 128 }, (_, code) => String.fromCharCode(code));
const mostFonts = 200;

/**
 * The letter by whose width the drawing library takes the height of a line. It is as wide as its font is large; where no font has it,
 * something narrower is measured, and labels lie on one another that it holds to be apart.
 */
const square = '国';

/**
 * Measures the letters of a font when the first of them is asked for, and answers from that afterwards. The drawing
 * library takes the time that its letters cost and guesses where that is long: on a slow machine texts were shortened
 * otherwise than on a quick one, and were cut off.
 */
export function withLetterWidths(measure: Measure): Measure {
  const fonts = new Map<string, Map<string, { width: number }>>();
  return (text, font) => {
    const size = text === square ? Number.parseFloat(/([\d.]+)px/.exec(font)?.[1] ?? '') : Number.NaN;
    if (size > 0) return { width: size };
    if (text.length > 1) return measure(text, font);
    let widths = fonts.get(font);
    if (!widths) {
      if (fonts.size >= mostFonts) fonts.clear();
      widths = new Map(letters.map((letter) => [letter, measure(letter, font)]));
      fonts.set(font, widths);
    }
    return widths.get(text) ?? measure(text, font);
  };
}

/** The widths of texts on a canvas, which is made when the first is asked for. */
export function measureOnCanvas(): Measure {
  let context: CanvasRenderingContext2D | null = null;
  let current: string | undefined;
  return (text, font) => {
    context ??= document.createElement('canvas').getContext('2d');
    if (!context) throw new Error('This browser can draw nothing on a canvas.');
    // Choosing a font costs more than measuring in it.
    if (current !== font) {
      context.font = font;
      current = font;
    }
    return context.measureText(text);
  };
}
