const part = (hex: string, at: number) => Number.parseInt(hex.slice(at, at + 2), 16);

/** A colour with some of another in it. */
export const mixed = (from: string, to: string, share: number) =>
  `#${[1, 3, 5]
    .map((at) =>
      Math.round(part(from, at) * (1 - share) + part(to, at) * share)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;

/** The contrast of two colours, from 1 to 21: WCAG 2.2, https://www.w3.org/TR/WCAG22/#dfn-contrast-ratio */
export function contrastOf(one: string, other: string): number {
  const luminance = (hex: string) =>
    [0.2126, 0.7152, 0.0722].reduce((sum, weight, i) => {
      const v = part(hex, 1 + 2 * i) / 255;
      return sum + weight * (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
    }, 0);
  const [a, b] = [luminance(one), luminance(other)];
  return (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);
}
