/** The look as values: another theme is another set of these, and nothing else. */
export interface Tokens {
  page: string;
  surface: string;
  ink: string;
  quiet: string;
  hairline: string;
  accent: string;
  /** What is written on the accent. */
  onAccent: string;
  tint: string;
  warning: string;
  danger: string;
  good: string;
  /** Series colours in order, told apart with any common colour vision. */
  series: readonly string[];
  /** The series colours on a light ground, by which definitions name them for every look. */
  named: readonly string[];
  /** Beyond the series, and the rest of a top N. */
  rest: string;
  /** One hue from little to much. */
  sequential: readonly [string, string];
  /** From far below a middle, by the middle, to far above it. */
  diverging: readonly [string, string, string];
  /** True if patterns tell series apart, and not colours. */
  patterns: boolean;
  /** How many times as large as usual type, lines and targets are. */
  scale: number;
  /** The size of text in pictures, in pixels. */
  size: number;
}

const named = ['#0F6E6E', '#D1717A', '#22308A', '#8B8318', '#8179DF', '#4D391E', '#4395B2', '#89483E'];

export const light: Tokens = {
  page: '#F6F5F1',
  surface: '#FFFFFF',
  ink: '#14212B',
  quiet: '#56646E',
  hairline: '#E2DFD6',
  accent: '#0F6E6E',
  onAccent: '#FFFFFF',
  tint: '#E3EFEE',
  warning: '#9A5B00',
  danger: '#A3261D',
  good: '#2C7A4B',
  series: ['#0F6E6E', '#D1717A', '#22308A', '#8B8318', '#8179DF', '#4D391E', '#4395B2', '#89483E'],
  named,
  rest: '#B9BEC2',
  sequential: ['#E3EFEE', '#0B4F4F'],
  diverging: ['#8C3A22', '#F1EFE9', '#0B4F4F'],
  patterns: false,
  scale: 1,
  size: 12,
};

// The hues of the light series in the same order, searched by scripts/colours.mjs.
export const dark: Tokens = {
  page: '#12191D',
  surface: '#1A2328',
  ink: '#E6ECEA',
  quiet: '#9DACB2',
  hairline: '#2E3A40',
  accent: '#57C2BF',
  onAccent: '#0B1B1B',
  tint: '#1F3A3B',
  warning: '#E0A23C',
  danger: '#F2877C',
  good: '#6CC58E',
  series: ['#57C2BF', '#BD6F76', '#8FA4F0', '#A79C37', '#7F74DE', '#9D6C0F', '#4896B3', '#EA9587'],
  named,
  rest: '#6A777E',
  sequential: ['#21363A', '#8FE3DF'],
  diverging: ['#F0A58F', '#2A3338', '#8FE3DF'],
  patterns: false,
  scale: 1,
  size: 12,
};

/** Ink, surface and one accent; patterns tell series apart. */
export const contrast: Tokens = {
  page: '#FFFFFF',
  surface: '#FFFFFF',
  ink: '#000000',
  quiet: '#2B2B2B',
  hairline: '#5E5E5E',
  accent: '#004F50',
  onAccent: '#FFFFFF',
  tint: '#D9ECEC',
  warning: '#6B3D00',
  danger: '#8A0F0A',
  good: '#0B5A2B',
  series: ['#004F50', '#000000', '#767676', '#004F50', '#000000', '#767676', '#004F50', '#000000'],
  named,
  rest: '#8C8C8C',
  sequential: ['#E8F1F1', '#002C2D'],
  diverging: ['#5A1A00', '#F4F4F4', '#002C2D'],
  patterns: true,
  scale: 1,
  size: 13,
};

/** Another look in the same colours: type, lines and targets half as large again. */
export const large = (tokens: Tokens): Tokens => ({ ...tokens, scale: 1.5, size: Math.round(tokens.size * 1.5) });
