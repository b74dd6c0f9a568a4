import '@fontsource-variable/inter/wght.css';
import * as charts from 'echarts/charts';
import {
  AriaComponent,
  GeoComponent,
  MarkAreaComponent,
  MarkLineComponent,
  TitleComponent,
  TooltipComponent,
  VisualMapComponent,
} from 'echarts/components';
import { registerMap } from 'echarts/core';
import { LabelLayout } from 'echarts/features';
import { contrast, dark, light, large, type Tokens } from '../src/look/tokens';
import type { Selection } from '../src/model/selections';
import { draw as area } from '../src/pictures/area/draw';
import { draw as bar } from '../src/pictures/bar/draw';
import { draw as box } from '../src/pictures/box/draw';
import { draw as density } from '../src/pictures/density/draw';
import { draw as heatmap } from '../src/pictures/heatmap/draw';
import { draw as histogram } from '../src/pictures/histogram/draw';
import { draw as line } from '../src/pictures/line/draw';
import { drawOn } from '../src/pictures/map/draw';
import type { Draw } from '../src/pictures/parts/drawing';
import { init, use } from '../src/pictures/parts/echarts';
import { draw as pie } from '../src/pictures/pie/draw';
import { placesOn } from '../src/pictures/places/draw';
import { draw as sankey } from '../src/pictures/sankey/draw';
import { draw as scatter } from '../src/pictures/scatter/draw';
import { draw as sunburst } from '../src/pictures/sunburst/draw';
import { draw as treemap } from '../src/pictures/treemap/draw';
import { draw as waterfall } from '../src/pictures/waterfall/draw';
import { kinds, type Like, likes, resultOf } from './results';

use([
  ...(Object.values(charts) as Parameters<typeof use>[0][]).flat(),
  AriaComponent,
  GeoComponent,
  LabelLayout,
  MarkAreaComponent,
  MarkLineComponent,
  TitleComponent,
  TooltipComponent,
  VisualMapComponent,
]);

/** Four areas beside one another, as wide as the members' places lie. */
const square = (x: number, name: string) => ({
  type: 'Feature',
  properties: { name },
  geometry: { type: 'Polygon', coordinates: [[[x, 0], [x + 0.8, 0], [x + 0.8, 1.5], [x, 1.5], [x, 0]]] },
});
const areas = {
  type: 'FeatureCollection',
  features: ['north', 'east', 'south', 'west'].map((name, i) => square(i * 0.8, name)),
};
registerMap('sheet', areas as Parameters<typeof registerMap>[1]);

const draws: Record<string, Draw> = {
  area,
  bar,
  box,
  density,
  heatmap,
  histogram,
  line,
  map: drawOn(areas, 'sheet', 'name'),
  pie,
  places: placesOn(areas, 'sheet'),
  sankey,
  scatter,
  sunburst,
  treemap,
  waterfall,
};
const themes: Record<string, Tokens> = { light, dark, contrast, large: large(light) };

type Point = readonly [number, number];

/** What is asked of what the drawing library has drawn. */
interface Shown {
  type: string;
  parent?: { style: { text?: string; overflow?: string; rich?: unknown; width?: number; fontSize?: number } };
  invisible: boolean;
  style: { text?: string; opacity?: number };
  transform: number[] | null;
  getBoundingRect: () => { x: number; y: number; width: number; height: number };
}

/** The corners of a text where it stands, turned or not; a little within its box, which is higher than its letters. */
function cornersOf(shown: Shown): Point[] {
  const m = shown.transform;
  const { x, y, width, height } = shown.getBoundingRect();
  const [top, bottom] = [y + height * 0.12, y + height * 0.88];
  const corners: Point[] = [
    [x, top],
    [x + width, top],
    [x + width, bottom],
    [x, bottom],
  ];
  return m
    ? corners.map(([a, b]) => [
        (m[0] ?? 1) * a + (m[2] ?? 0) * b + (m[4] ?? 0),
        (m[1] ?? 0) * a + (m[3] ?? 1) * b + (m[5] ?? 0),
      ])
    : corners;
}

/** True if two rectangles, turned as they are, lie on one another by more than a pixel: no side of either parts them. */
function overlap(one: Point[], two: Point[]): boolean {
  for (const of of [one, two])
    for (let i = 0; i < 2; i++) {
      const [a, b] = [of[i] as Point, of[i + 1] as Point];
      const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
      const [nx, ny] = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
      const along = (points: Point[]) => points.map(([x, y]) => x * nx + y * ny);
      const [p, q] = [along(one), along(two)];
      if (Math.min(Math.max(...p), Math.max(...q)) - Math.max(Math.min(...p), Math.min(...q)) < 1) return false;
    }
  return true;
}

/** The line of which a text is shown shortened and does not say so, or not as a figure may be; undefined if there is none. */
function leftOf({ style, parent }: Shown): string | undefined {
  if (parent?.style.overflow !== 'truncate' || parent.style.rich) return undefined;
  const lines = String(parent.style.text).split('\n');
  const shown = style.text ?? '';
  if (lines.includes(shown)) return undefined;
  const whole = lines.find((l) => l.startsWith(shown.replace(/…$/, '')));
  if (whole === undefined || isFigure(whole)) return whole;
  // The name of a group that is narrower than two letters and dots stands as its first letter.
  const isNarrow = (parent.style.width ?? 0) < 2.3 * (parent.style.fontSize ?? 0);
  return shown.endsWith('…') || isNarrow ? undefined : whole;
}

/** True for a figure, of which a part is another figure. */
const isFigure = (text: string) => /^[−-]?[\d.,]+(\s?[kmb%])?$/.test(text);

/** Draws a kind and tells which of its texts are cut off, shortened unseen, or lie on one another. */
function check(kind: string, like: Like, theme: string, width: number, height: number, keep = false): string[] {
  const tokens = themes[theme] as Tokens;
  const element = document.createElement('div');
  element.style.cssText = `width:${width}px;height:${height}px;background:${tokens.surface}`;
  document.getElementById('sheet')?.append(element);
  const chart = init(element, null, { renderer: 'canvas' });
  const { option } = (draws[kind.split(',')[0] as string] as Draw)({ ...resultOf(kind, like), tokens, width, height });
  chart.setOption(option);
  chart.getZr().flush();
  const shown = chart.getZr().storage.getDisplayList(true) as unknown as Shown[];
  const texts = shown
    .filter((s) => s.type === 'tspan' && !s.invisible && s.style.opacity !== 0 && (s.style.text ?? '').trim() !== '')
    .map((s) => ({ text: s.style.text as string, corners: cornersOf(s), leftOf: leftOf(s) }));
  const isWithin = ([x, y]: Point) => x > -1 && y > -1 && x < width + 1 && y < height + 1;
  const faults = texts.filter((a) => !a.corners.every(isWithin)).map((a) => `"${a.text}" is cut off`);
  for (const { text, leftOf } of texts) if (leftOf) faults.push(`"${text}" is what is left of "${leftOf}"`);
  texts.forEach((a, i) => {
    for (const b of texts.slice(i + 1))
      if (overlap(a.corners, b.corners)) faults.push(`"${a.text}" lies on "${b.text}"`);
  });
  if (!keep) {
    chart.dispose();
    element.remove();
  }
  return faults;
}

/** How long a kind takes to be drawn with so many marks, and then to be drawn anew with one of them picked, in milliseconds. */
function time(kind: string, marks: number): { first: number; anew: number } {
  const given = resultOf(kind, 'many');
  const { columns } = given.table;
  // A split has five members.
  const parts = columns.filter((c) => c.role === 'group').length > 1 ? 5 : 1;
  const values = columns.map((c, at) =>
    Array.from({ length: marks }, (_, i) => {
      if (c.role !== 'group') return (i * 7919 * (at + 1)) % 1009;
      const place = at === 0 ? Math.floor(i / parts) : i % parts;
      return c.kind === 'date' ? new Date(Date.UTC(2010, 0, place + 1)).toISOString().slice(0, 10) : `member ${place}`;
    }),
  );
  const [width, height] = [800, 480];
  const input = { ...given, table: { columns, values }, tokens: light, width, height };
  const element = document.createElement('div');
  element.style.cssText = `width:${width}px;height:${height}px`;
  document.getElementById('sheet')?.append(element);
  const chart = init(element, null, { renderer: 'canvas' });
  const draw = draws[kind.split(',')[0] as string] as Draw;
  const drawn = (selection?: Selection) => {
    const from = performance.now();
    chart.setOption(draw({ ...input, selection }).option);
    chart.getZr().flush();
    return performance.now() - from;
  };
  const first = drawn();
  const anew = drawn({ members: [[values[0]?.[0] as string]] });
  chart.dispose();
  element.remove();
  return { first, anew };
}

declare global {
  interface Window {
    sheet: { kinds: string[]; likes: Like[]; themes: string[]; check: typeof check; time: typeof time };
  }
}
/** Begins once the page's own type is there: with another, texts are as wide as nobody sees them. */
async function begin() {
  const [face] = await document.fonts.load('12px "Inter Variable"');
  if (!face) throw new Error('The type is not there.');
  window.sheet = { kinds: Object.keys(kinds), likes, themes: Object.keys(themes), check, time };
}
// Style sheets, and with them the names of type, are there when the page is.
if (document.readyState === 'complete') void begin();
else window.addEventListener('load', () => void begin());
