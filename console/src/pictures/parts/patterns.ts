import type { Tokens } from '../../look/tokens';

/** How a series is told from others where colour does not do it: on what is filled, along a line, and as a point. */
export interface Pattern {
  /** As the drawing library takes it. */
  decal: object;
  /** The same in a swatch of 14 by 10, as a path of SVG that is stroked. */
  swatch: string;
  /** Lengths of strokes and gaps. */
  dash: number[];
  symbol: string;
}

const light = 'rgba(255, 255, 255, 0.8)';
const lines = (rotation: number) => ({ color: light, dashArrayX: [1, 0], dashArrayY: [2, 5], rotation });
const marks = (symbol: string, size: number, symbolSize: number) => ({
  color: light,
  symbol,
  dashArrayX: [
    [size, size],
    [0, size, size, 0],
  ],
  dashArrayY: [size, 0],
  symbolSize,
});

const patterns: readonly Pattern[] = [
  { decal: { symbol: 'none' }, swatch: '', dash: [], symbol: 'circle' },
  { decal: lines(-Math.PI / 4), swatch: 'M-2 8L8 -2M2 12L14 0M9 13L16 6', dash: [6, 4], symbol: 'rect' },
  { decal: marks('circle', 5, 0.7), swatch: 'M2 2h0M8 2h0M5 5h0M11 5h0M2 8h0M8 8h0', dash: [2, 3], symbol: 'triangle' },
  { decal: lines(0), swatch: 'M0 3h14M0 7h14', dash: [10, 3, 2, 3], symbol: 'diamond' },
  { decal: lines(Math.PI / 4), swatch: 'M6 -2L16 8M0 0L12 12M-2 6L5 13', dash: [14, 4], symbol: 'emptyCircle' },
  { decal: lines(Math.PI / 2), swatch: 'M3 0v10M7 0v10M11 0v10', dash: [2, 6], symbol: 'emptyRect' },
  {
    decal: marks('rect', 7, 1),
    swatch: 'M2 0v5M9 0v5M5.5 5v5M12.5 5v5',
    dash: [6, 2, 2, 2, 2, 2],
    symbol: 'emptyTriangle',
  },
  { decal: marks('triangle', 9, 0.75), swatch: 'M1 8l2-5l2 5zM8 8l2-5l2 5z', dash: [1, 3], symbol: 'emptyDiamond' },
];

/** The pattern of a series by its place; undefined where colour tells series apart. */
export const patternOf = (t: Pick<Tokens, 'patterns'>, series: number): Pattern | undefined =>
  t.patterns ? patterns[series % patterns.length] : undefined;
