import { expect, test } from 'vitest';
import { contrastOf } from './colour';
import { withHouse } from './house';
import { contrast, dark, light } from './tokens';

const house = {
  light: { accent: '#7A1F5C', series: ['#7A1F5C', '#C2570C', '#2B6CB0'] },
  dark: { accent: '#E58AC4', series: [] },
};

test('The colours of a workspace stand on the ground that they were made for, with what follows from them', () => {
  const [onLight, onDark] = [withHouse(light, house), withHouse(dark, house)];
  expect(onLight).toMatchObject({ accent: '#7A1F5C', onAccent: '#FFFFFF', series: house.light.series, ink: light.ink });
  expect(onDark).toMatchObject({
    accent: '#E58AC4',
    onAccent: '#101010',
    series: dark.series,
    named: house.light.series,
  });
  for (const t of [onLight, onDark]) {
    expect(contrastOf(t.accent, t.tint)).toBeGreaterThan(3);
    expect(contrastOf(t.onAccent, t.accent)).toBeGreaterThan(4.5);
    expect(contrastOf(t.sequential[0], t.sequential[1])).toBeGreaterThan(4.5);
  }
});

test('High contrast stays as it is, and without colours of a workspace every look does', () => {
  expect(withHouse(contrast, house)).toBe(contrast);
  expect(withHouse(light, undefined)).toBe(light);
});
