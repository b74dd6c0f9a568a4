import { nextPeriod } from '../../../model/periods';
import { instant, type PickedRange, within } from '../../../model/selections';
import type { Drawing } from '../drawing';
import type { EChartsType } from '../echarts';

/** Where a range is drawn over a picture, in its pixels. */
export interface Band {
  left: number;
  width: number;
  height: number;
}

/** The range from one member along the axis to another, both included. */
export function rangeOf(drawing: Drawing, from: number, to: number): PickedRange | undefined {
  const { members, at, edges } = drawing.along ?? { members: [], at: null };
  // Of ranges the last one alone holds its end.
  if (edges)
    return {
      from: edges[from] as number,
      to: edges[to + 1] as number,
      ...(to + 2 < edges.length ? { below: true } : {}),
    };
  const known = members.slice(from, to + 1).filter((m) => m !== null);
  const [first, last] = [known[0], known[known.length - 1]];
  if (first === undefined || last === undefined) return undefined;
  if (typeof first === 'number') return { from: first, to: last as number };
  return { from: first as string, to: nextPeriod(last as string, at ?? 'day') };
}

/** The places of the first and last member that lie in a range. */
export function placesOf(drawing: Drawing, range: PickedRange): [number, number] | undefined {
  const isInside = within(range);
  const members = drawing.along?.members ?? [];
  const first = members.findIndex(isInside);
  return first < 0 ? undefined : [first, members.findLastIndex(isInside)];
}

export const isSameRange = (a: PickedRange | undefined, b: PickedRange | undefined): boolean => {
  const end = (v: string | number | null | undefined) => (typeof v === 'string' ? instant(v) : v);
  return (
    a !== undefined &&
    b !== undefined &&
    end(a.from) === end(b.from) &&
    end(a.to) === end(b.to) &&
    (a.below ?? false) === (b.below ?? false)
  );
};

/** Where a range is drawn; undefined where no member lies in it. @param height How high the picture is, in pixels. */
export function bandOf(
  chart: EChartsType,
  drawing: Drawing,
  range: PickedRange | undefined,
  height: number,
): Band | undefined {
  const places = range && placesOf(drawing, range);
  if (!places) return undefined;
  const x = (place: number) => Number(chart.convertToPixel({ xAxisIndex: 0 }, place));
  const half = drawing.along && drawing.along.members.length > 1 ? Math.abs(x(1) - x(0)) / 2 : 8;
  const foot = drawing.along?.edges ? Number(chart.convertToPixel({ yAxisIndex: 0 }, 0)) - 4 : height - 26;
  return { left: x(places[0]) - half, width: x(places[1]) - x(places[0]) + 2 * half, height: foot };
}
