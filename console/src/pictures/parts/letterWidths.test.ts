import { expect, test } from 'vitest';
import { withLetterWidths } from './letterWidths';

test('What letters of a font measure is asked once, before the first answer, and texts are measured as they are', () => {
  const asked: string[] = [];
  const measure = withLetterWidths((text, font) => {
    asked.push(text);
    return { width: text.length * Number.parseInt(font, 10) + (text.codePointAt(0) ?? 0) / 1000 };
  });
  expect(measure('é', '12px x').width).toBeCloseTo(12 + 233 / 1000);
  expect(asked.slice(0, 128)).toEqual(Array.from({ length: 128 }, (_, code) => String.fromCharCode(code)));
  asked.length = 0;
  for (const letter of ['a', 'M', '~', '\0'])
    expect(measure(letter, '12px x').width).toBeCloseTo(12 + letter.charCodeAt(0) / 1000);
  expect(asked).toEqual([]);
  // As wide as its font is large, whatever fonts there are.
  expect(measure('国', 'bold 12.5px x').width).toBe(12.5);
  expect(measure('two', '12px x').width).toBeCloseTo(36.116);
  expect(asked).toEqual(['two']);
  expect(measure('a', '20px x').width).toBeCloseTo(20.097);
  expect(asked).toHaveLength(129);
});
