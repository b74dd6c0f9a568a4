import {
  type CSSVariablesResolver,
  createTheme,
  type MantineColorsTuple,
  type MantineThemeOverride,
} from '@mantine/core';
import type { Tokens } from './tokens';
import { types } from './type';

/** The kit's own scale of a colour; its parts take the tokens below instead of most of it. */
const shades = (c: string): MantineColorsTuple => [c, c, c, c, c, c, c, c, c, c];

const sizes = { xs: 12, sm: 13, md: 13, lg: 15, xl: 20 };

/** The kit's theme for a look. */
export const themeOf = (t: Tokens): MantineThemeOverride =>
  createTheme({
    primaryColor: 'accent',
    primaryShade: 6,
    colors: { accent: shades(t.accent), orange: shades(t.warning), red: shades(t.danger) },
    fontFamily: types,
    fontSizes: Object.fromEntries(Object.entries(sizes).map(([name, size]) => [name, `${size * t.scale}px`])),
    defaultRadius: 6,
    black: t.ink,
    white: t.surface,
    scale: t.scale,
    respectReducedMotion: true,
    cursorType: 'pointer',
    // The first item has the focus of an opened menu, and not an element that is nothing to a screen reader.
    components: {
      Menu: { defaultProps: { withInitialFocusPlaceholder: false } },
      // What it says is read as any other text; how grave it is says its edge.
      Alert: { styles: { root: { borderColor: 'var(--alert-color)' }, message: { color: 'var(--ink)' } } },
    },
  });

const own = {
  '--mantine-color-body': 'var(--surface)',
  '--mantine-color-text': 'var(--ink)',
  '--mantine-color-bright': 'var(--ink)',
  '--mantine-color-dimmed': 'var(--quiet)',
  '--mantine-color-placeholder': 'var(--quiet)',
  '--mantine-color-anchor': 'var(--accent)',
  '--mantine-color-error': 'var(--danger)',
  '--mantine-color-default': 'var(--surface)',
  '--mantine-color-default-hover': 'var(--page)',
  '--mantine-color-default-color': 'var(--ink)',
  '--mantine-color-default-border': 'var(--hairline)',
  '--mantine-color-disabled': 'var(--page)',
  '--mantine-color-disabled-color': 'var(--quiet)',
  '--mantine-color-disabled-border': 'var(--hairline)',
  '--mantine-primary-color-contrast': 'var(--on-accent)',
  '--mantine-color-accent-filled': 'var(--accent)',
  '--mantine-color-accent-filled-hover': 'var(--accent)',
  '--mantine-color-accent-light': 'var(--tint)',
  '--mantine-color-accent-light-hover': 'var(--tint)',
  '--mantine-color-accent-light-color': 'var(--accent)',
  '--mantine-color-accent-outline': 'var(--accent)',
  '--mantine-color-red-light': 'color-mix(in srgb, var(--danger) 10%, var(--surface))',
  '--mantine-color-red-light-color': 'var(--danger)',
  '--mantine-color-orange-light': 'color-mix(in srgb, var(--warning) 10%, var(--surface))',
  '--mantine-color-orange-light-color': 'var(--warning)',
  '--mantine-color-gray-light-hover': 'var(--page)',
  '--mantine-color-gray-0': 'var(--page)',
  '--mantine-color-gray-1': 'var(--page)',
  '--mantine-color-gray-2': 'var(--hairline)',
  '--mantine-color-gray-3': 'var(--hairline)',
  '--mantine-color-gray-4': 'var(--hairline)',
  '--mantine-color-dark-4': 'var(--hairline)',
  '--mantine-color-dark-5': 'var(--page)',
  '--mantine-color-dark-6': 'var(--surface)',
};

/** The kit's colours are the tokens, whatever the scheme: one set of values for both. */
export const variables: CSSVariablesResolver = () => ({ variables: {}, light: own, dark: own });
