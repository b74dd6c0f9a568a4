/** The look as values: another theme is another set of these, and nothing else. */
export interface Tokens {
  page: string;
  surface: string;
  ink: string;
  quiet: string;
  hairline: string;
  accent: string;
  tint: string;
  warning: string;
  danger: string;
  good: string;
  /** Series colours in order, told apart with any common colour vision. */
  series: readonly string[];
  /** Beyond the series, and the rest of a top N. */
  rest: string;
  /** One hue from little to much. */
  sequential: readonly [string, string];
}

export const light: Tokens = {
  page: '#F6F5F1',
  surface: '#FFFFFF',
  ink: '#14212B',
  quiet: '#56646E',
  hairline: '#E2DFD6',
  accent: '#0F6E6E',
  tint: '#E3EFEE',
  warning: '#9A5B00',
  danger: '#A3261D',
  good: '#2C7A4B',
  series: ['#0F6E6E', '#D1717A', '#22308A', '#8B8318', '#8179DF', '#4D391E', '#4395B2', '#89483E'],
  rest: '#B9BEC2',
  sequential: ['#E3EFEE', '#0B4F4F'],
};

/** Puts the tokens where the style sheets find them. */
export function applyTokens(tokens: Tokens): void {
  for (const [name, value] of Object.entries(tokens))
    if (typeof value === 'string') document.documentElement.style.setProperty(`--${name}`, value);
}
