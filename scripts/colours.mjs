// Searches and checks the colours of a theme: node scripts/colours.mjs [--search].
//
// Distances are Euclidean in OKLab (Björn Ottosson, 2020, https://bottosson.github.io/posts/oklab/), times 100; contrast is that of
// WCAG 2.2; deuteranopia and protanopia are simulated as by Machado, Oliveira and Fernandes (2009), at severity 1.
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const linear = (v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
const gamma = (v) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
const read = (hex) => [1, 3, 5].map((i) => linear(Number.parseInt(hex.slice(i, i + 2), 16) / 255));
const write = (rgb) =>
  `#${rgb
    .map((v) =>
      Math.round(gamma(v) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`.toUpperCase();
const times = (m, v) => m.map((row) => row.reduce((sum, x, i) => sum + x * v[i], 0));

const toLms = [
  [0.4122214708, 0.5363325363, 0.0514459929],
  [0.2119034982, 0.6806995451, 0.1073969566],
  [0.0883024619, 0.2817188376, 0.6299787005],
];
const toLab = [
  [0.2104542553, 0.793617785, -0.0040720468],
  [1.9779984951, -2.428592205, 0.4505937099],
  [0.0259040371, 0.7827717662, -0.808675766],
];
const fromLab = [
  [1, 0.3963377774, 0.2158037573],
  [1, -0.1055613458, -0.0638541728],
  [1, -0.0894841775, -1.291485548],
];
const fromLms = [
  [4.0767416621, -3.3077115913, 0.2309699292],
  [-1.2684380046, 2.6097574011, -0.3413193965],
  [-0.0041960863, -0.7034186147, 1.707614701],
];
const sights = {
  'any sight': [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ],
  deuteranopia: [
    [0.367322, 0.860646, -0.227968],
    [0.280085, 0.672501, 0.047413],
    [-0.01182, 0.04294, 0.968881],
  ],
  protanopia: [
    [0.152286, 1.052583, -0.204868],
    [0.114503, 0.786281, 0.099216],
    [-0.003882, -0.048116, 1.051998],
  ],
};

const oklab = (rgb) => times(toLab, times(toLms, rgb).map(Math.cbrt));
const seen = (rgb, sight) => times(sights[sight], rgb).map((v) => Math.min(1, Math.max(0, v)));
const luminance = ([r, g, b]) => 0.2126 * r + 0.7152 * g + 0.0722 * b;

/** The contrast of two colours, from 1 to 21. */
export function contrast(one, other) {
  const [a, b] = [luminance(read(one)), luminance(read(other))].sort((x, y) => y - x);
  return (a + 0.05) / (b + 0.05);
}

/** The smallest distance between any two colours for one of the three sights. */
export function closest(colours, sight) {
  const labs = colours.map((c) => oklab(seen(read(c), sight)));
  let least = Number.POSITIVE_INFINITY;
  for (let i = 0; i < labs.length; i++)
    for (let j = 0; j < i; j++) least = Math.min(least, 100 * Math.hypot(...labs[i].map((v, k) => v - labs[j][k])));
  return least;
}

/** What a set of series colours reaches on a surface. */
export const reached = (series, surface) => ({
  contrast: Math.min(...series.map((c) => contrast(c, surface))),
  deuteranopia: closest(series, 'deuteranopia'),
  protanopia: closest(series, 'protanopia'),
});

/** Colours of the same hues in the same order, on another surface, as far apart as they get. Made the same way each time. */
function search(series, surface) {
  const hues = series.map((c) => {
    const [, a, b] = oklab(read(c));
    return Math.atan2(b, a);
  });
  let seed = 1;
  const random = () => {
    seed = (seed * 1664525 + 1013904223) % 4294967296;
    return seed / 4294967296;
  };
  const colour = (hue, [l, c, turn]) => {
    const rgb = times(
      fromLms,
      times(fromLab, [l, c * Math.cos(hue + turn), c * Math.sin(hue + turn)]).map((v) => v ** 3),
    );
    return rgb.every((v) => v >= 0 && v <= 1) ? write(rgb) : undefined;
  };
  // Far apart is not all: beyond 9 they are to be calm, of middle lightness and chroma.
  const worth = (places) => {
    const set = places.map((p, i) => colour(hues[i], p));
    if (set.some((c) => c === undefined || contrast(c, surface) < 3.05)) return Number.NEGATIVE_INFINITY;
    const apart = Math.min(closest(set, 'deuteranopia'), closest(set, 'protanopia'), closest(set, 'any sight') / 1.4);
    const loud = places.reduce((sum, [l, c, turn]) => sum + (l - 0.7) ** 2 + 4 * (c - 0.1) ** 2 + 0.3 * turn ** 2, 0);
    return Math.min(apart, 9) + Math.min(apart, 20) / 100 - 6 * loud;
  };
  let best;
  for (let round = 0; round < 30; round++) {
    let now = hues.map(() => [0.55 + 0.35 * random(), 0.04 + 0.1 * random(), 0]);
    let value = worth(now);
    for (let step = 0; step < 6000; step++) {
      const size = 0.12 * (1 - step / 6000) + 0.004;
      const at = Math.floor(random() * now.length);
      const next = now.map((p, i) =>
        i === at
          ? [
              Math.min(0.93, Math.max(0.5, p[0] + (random() - 0.5) * size)),
              Math.min(0.17, Math.max(0.03, p[1] + (random() - 0.5) * size)),
              Math.min(0.2, Math.max(-0.2, p[2] + (random() - 0.5) * size)),
            ]
          : p,
      );
      const reach = worth(next);
      if (reach >= value) [now, value] = [next, reach];
    }
    if (!best || value > best.value) best = { value, set: now.map((p, i) => colour(hues[i], p)) };
  }
  return best.set;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const text = readFileSync(new URL('../console/src/look/tokens.ts', import.meta.url), 'utf8');
  const themes = [...text.matchAll(/export const (\w+): Tokens = \{(.*?)\n\};/gs)].map(([, name, body]) => ({
    name,
    surface: /surface: '(.*?)'/.exec(body)[1],
    series: [.../series: \[(.*?)\]/s.exec(body)[1].matchAll(/'(#\w+)'/g)].map((m) => m[1]),
  }));
  for (const { name, surface, series } of themes) {
    const reach = reached(series, surface);
    console.log(
      `${name.padEnd(9)} ${series.join(' ')}\n          contrast on ${surface} at least ${reach.contrast.toFixed(2)}, ` +
        `distance ${reach.deuteranopia.toFixed(1)} (deuteranopia), ${reach.protanopia.toFixed(1)} (protanopia)`,
    );
  }
  const at = process.argv.indexOf('--search');
  if (at > 0) {
    const surface = process.argv[at + 1] ?? '#1A2328';
    const found = search(themes[0].series, surface);
    console.log(`found     ${found.join(' ')}`, reached(found, surface));
  }
}
