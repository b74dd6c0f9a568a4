import { expect, test } from 'vitest';
// @ts-expect-error a script of the project, in plain JavaScript
import { contrast as contrastOf } from '../../../../scripts/colours.mjs';
import { contrast, dark, light } from '../../look/tokens';
import { colourOf, figureColours, legible, middleOf, onColour } from './colours';

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
    for (const middle of [undefined, 0, 0.4])
      for (let place = 0; place <= 1; place += 0.01) {
        const colour = legible(figureColours([0, 1], t, middle).of(place), t);
        expect(contrastOf(colour, onColour(colour, t)), `${colour} at ${place}`).toBeGreaterThanOrEqual(4.5);
      }
});

test('Around a stated middle figures as far below as above are as strong, and the scale ends where the figures do', () => {
  const colours = figureColours([-1, 3], light, 1);
  const [below, between, above] = light.diverging.map((c) => c.toLowerCase());
  expect([colours.of(-1), colours.of(1), colours.of(3)]).toEqual([below, between, above]);
  const uneven = figureColours([0.9, 5], light, 1);
  expect([uneven.least, uneven.most, uneven.along.at(-1)]).toEqual([0.9, 5, above]);
  expect(uneven.along[0]).not.toBe(below);
  expect(figureColours([2, 2], light).of(2)).not.toBe(light.sequential[0].toLowerCase());
  expect([middleOf({ options: {} }), middleOf({ options: { middle: '0' } })]).toEqual([undefined, 0]);
});
