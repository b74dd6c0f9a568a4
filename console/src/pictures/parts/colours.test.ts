import { expect, test } from 'vitest';
// @ts-expect-error a script of the project, in plain JavaScript
import { contrast as contrastOf } from '../../../../scripts/colours.mjs';
import { contrast, dark, light } from '../../look/tokens';
import { colourOf, legible, onColour, onScale } from './colours';

test('A colour comes from the definition or from the place that the service gives, whatever was drawn before', () => {
  const column = { colours: { Fixed: '#123456' }, places: { North: 0, South: 1, Ninth: 8 } };
  expect(colourOf(column, 'South', light)).toBe(light.series[1]);
  expect(colourOf(column, 'North', light)).toBe(light.series[0]);
  expect(colourOf(column, 'Fixed', light)).toBe('#123456');
  expect(colourOf(column, null, light)).toBe(light.rest);
  expect(light.series).not.toContain(colourOf(column, 'Ninth', light));
});

test('A colour that a definition fixes is that series in every look, and is moved to the ink elsewhere until it stands out', () => {
  const column = { colours: { Series: light.series[2] as string, Own: '#123456' }, places: {} };
  expect(colourOf(column, 'Series', dark)).toBe(dark.series[2]);
  expect(colourOf(column, 'Series', contrast)).toBe(contrast.series[2]);
  expect(contrastOf('#123456', dark.surface)).toBeLessThan(3);
  expect(contrastOf(colourOf(column, 'Own', dark), dark.surface)).toBeGreaterThanOrEqual(3);
});

test('What is written on any place of the scale can be read, in every look', () => {
  for (const t of [light, dark, contrast])
    for (let place = 0; place <= 1; place += 0.01) {
      const colour = legible(onScale(place, t), t);
      expect(contrastOf(colour, onColour(colour, t)), `${colour} at ${place}`).toBeGreaterThanOrEqual(4.5);
    }
});
