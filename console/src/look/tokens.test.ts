import { describe, expect, test } from 'vitest';
// @ts-expect-error a script of the project, in plain JavaScript
import { contrast as contrastOf, reached } from '../../../scripts/colours.mjs';
import { readLook, writeLook } from './look';
import { contrast, dark, large, light } from './tokens';

describe.each(Object.entries({ light, dark, contrast }))('The look %s', (_, t) => {
  test('has text that can be read on every ground', () => {
    for (const ground of [t.page, t.surface, t.tint]) {
      expect(contrastOf(t.ink, ground)).toBeGreaterThan(7);
      for (const text of [t.quiet, t.accent]) expect(contrastOf(text, ground)).toBeGreaterThan(4.5);
    }
    for (const text of [t.warning, t.danger, t.good]) expect(contrastOf(text, t.surface)).toBeGreaterThan(4.5);
    expect(contrastOf(t.onAccent, t.accent)).toBeGreaterThan(4.5);
  });
  test('has series that stand out, and are told apart by any common colour vision or by patterns', () => {
    const found = reached([...t.series], t.surface);
    expect(found.contrast).toBeGreaterThan(3);
    if (t.patterns) return;
    expect(found.deuteranopia).toBeGreaterThan(7.5);
    expect(found.protanopia).toBeGreaterThan(7.5);
  });
});

test('A look is written and read, and large is half as large again', () => {
  for (const look of [{ colours: 'dark', isLarge: true } as const, { colours: 'system', isLarge: false } as const])
    expect(readLook(writeLook(look))).toEqual(look);
  expect(readLook('large')).toEqual({ colours: 'system', isLarge: true });
  expect(readLook('nothing')).toBeUndefined();
  expect(large(dark)).toMatchObject({ scale: 1.5, size: 18, page: dark.page });
});
