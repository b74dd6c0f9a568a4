import { GridComponent } from 'echarts/components';
import { type EChartsType, init, setPlatformAPI, use } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import type { Bars } from './drawing';
import { measureOnCanvas, withLetterWidths } from './letterWidths';

// What every drawn picture needs; each kind adds its own, and what only some need comes apart: see libraryParts.
use([GridComponent, CanvasRenderer]);
setPlatformAPI({ measureText: withLetterWidths(measureOnCanvas()) });

/** How pictures are drawn: on a canvas, which is quick, or as lines and letters, for paper. Chosen once, before anything is drawn. */
export const drawing: { renderer: 'canvas' | 'svg' } = { renderer: 'canvas' };

export type { EChartsType };
export { init, use };

/** A bar as the library draws it. */
interface Bar {
  setShape: (shape: { x: number; width: number } | { y: number; height: number }) => void;
}

/** What is asked of the inside of a chart; the library keeps it for itself, so its version is pinned and a test compares. */
interface Inside {
  getSeriesByIndex: (
    at: number,
  ) => { getData: () => { getItemGraphicEl: (at: number) => Bar | undefined } } | undefined;
}

/**
 * Moves the bars of a chart, and nothing else: no axis, no label, no option is made anew.
 * @returns False if they can't be moved, since others are drawn than are to be; nothing has moved then.
 */
export function moveBars(chart: EChartsType, { ends, lying }: Bars): boolean {
  // biome-ignore lint/complexity/useLiteralKeys: it is private
  const inside: Inside = chart['getModel']();
  const axis = lying ? { xAxisIndex: 0 } : { yAxisIndex: 0 };
  const origin = Number(chart.convertToPixel(axis, 0));
  const scale = Number(chart.convertToPixel(axis, 1)) - origin;
  const moves: (() => void)[] = [];
  for (const [s, places] of ends.entries()) {
    const data = inside.getSeriesByIndex(s)?.getData();
    for (const [i, place] of places.entries()) {
      const bar = data?.getItemGraphicEl(i);
      if ((bar === undefined) !== (place === null)) return false;
      if (!bar || !place) continue;
      const [start, length] = [origin + place[0] * scale, (place[1] - place[0]) * scale];
      moves.push(() => bar.setShape(lying ? { x: start, width: length } : { y: start, height: length }));
    }
  }
  for (const move of moves) move();
  return true;
}
