import { expect, test } from 'vitest';
import { light } from '../../look/tokens';
import { colourOf } from './colours';

test('A colour comes from the definition or from the place that the service gives, whatever was drawn before', () => {
  const column = { colours: { Fixed: '#123456' }, places: { North: 0, South: 1, Ninth: 8 } };
  expect(colourOf(column, 'South', light)).toBe(light.series[1]);
  expect(colourOf(column, 'North', light)).toBe(light.series[0]);
  expect(colourOf(column, 'Fixed', light)).toBe('#123456');
  expect(colourOf(column, null, light)).toBe(light.rest);
  expect(light.series).not.toContain(colourOf(column, 'Ninth', light));
});
