import { contrastOf, mixed } from './colour';
import { dark, light, type Tokens } from './tokens';

/** The colours of a workspace on one ground, as the service has checked them. */
interface GroundColours {
  accent: string | null;
  series: readonly string[];
}

/** What a workspace looks like beside the usual. */
export interface House {
  light: GroundColours;
  dark: GroundColours;
}

/** A look with the colours of a workspace. High contrast stays as it is: there patterns tell series apart. */
export function withHouse(tokens: Tokens, house: House | undefined): Tokens {
  const isDark = tokens.page === dark.page;
  const own = house && !tokens.patterns ? house[isDark ? 'dark' : 'light'] : undefined;
  if (!own) return tokens;
  const named = house && house.light.series.length > 0 ? house.light.series : light.series;
  const coloured = own.series.length > 0 ? { ...tokens, series: own.series, named } : { ...tokens, named };
  const { accent } = own;
  if (!accent) return coloured;
  // What else is of the accent's hue follows it: its ground, and how much is told by it.
  const tint = mixed(tokens.surface, accent, isDark ? 0.2 : 0.12);
  const most = isDark ? mixed(accent, '#FFFFFF', 0.4) : mixed(accent, '#000000', 0.35);
  return {
    ...coloured,
    accent,
    tint,
    onAccent: contrastOf(accent, '#FFFFFF') >= contrastOf(accent, '#101010') ? '#FFFFFF' : '#101010',
    sequential: [tint, most],
    diverging: [tokens.diverging[0], tokens.diverging[1], most],
  };
}
