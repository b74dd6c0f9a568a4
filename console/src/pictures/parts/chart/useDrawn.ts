import { type RefObject, useEffect, useRef } from 'react';
import type { Drawing } from '../drawing';
import { type EChartsType, moveBars } from '../echarts';

/** Draws what is to be drawn, and no more than what changed. @param hasTip True where a tip follows the pointer. */
export function useDrawn(
  chart: RefObject<EChartsType | undefined>,
  canvas: RefObject<HTMLDivElement | null>,
  drawing: Drawing,
  hasTip: boolean,
  size: { width: number; height: number } | undefined,
) {
  const last = useRef<{ of: EChartsType; drawing: Drawing; shape: string }>(undefined);
  const [width, height] = [size?.width, size?.height];
  const isReady = size !== undefined;
  useEffect(() => {
    if (width && height) chart.current?.resize({ width, height });
  }, [chart, width, height]);
  useEffect(() => {
    const to = chart.current;
    if (!isReady || !to) return;
    const before = last.current?.of === to ? last.current : undefined;
    const isStill = drawing.bars !== undefined && before?.drawing.bars?.still === drawing.bars.still;
    // Where only lengths changed, only they are drawn anew, in this frame already and not in the one after.
    if (before && isStill && !hasTip && drawing.bars && moveBars(to, drawing.bars)) {
      last.current = { ...before, drawing };
      to.getZr().flush();
      return;
    }
    const { tooltip, ...plain } = drawing.option;
    const option = hasTip ? drawing.option : plain;
    // Where only figures changed, what is drawn is changed and not made anew.
    const shape = `${hasTip} ${shapeOf(option)}`;
    to.setOption(option, shape === before?.shape ? undefined : { notMerge: true });
    last.current = { of: to, drawing, shape };
    to.getZr().flush();
    // For whoever waits until a picture stands.
    if (canvas.current) canvas.current.dataset.drawn = '';
  }, [chart, canvas, drawing, isReady, hasTip]);
}

/** What has to stay the same for a picture to be changed in place: its axes, and how many series of which kind it has. */
function shapeOf(option: Drawing['option']): string {
  const part = option as Record<string, { type?: string; inverse?: boolean } & { type?: string }[]>;
  const axis = (a: unknown) => [(a as { type?: string })?.type, (a as { inverse?: boolean })?.inverse];
  const series = (part.series ?? []) as { type?: string; name?: string; stack?: string }[];
  return JSON.stringify([axis(part.xAxis), axis(part.yAxis), series.map((s) => [s.type, s.name, s.stack])]);
}
