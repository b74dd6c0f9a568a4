import type { ColumnInfo } from '../../api/client';
import type { Tokens } from '../../look/tokens';
import { formatOf } from '../../model/labels';
import { type Plane, seenThrough } from '../../model/lens';
import { figureLabels } from '../parts/cartesian/axes';
import type { DrawingInput } from '../parts/drawing';
import { scaleOf } from '../parts/scale';

/** Between which figures an axis lies; without steps where it is a part of one. */
export interface Ends {
  min: number;
  max: number;
  interval?: number;
}

/** Both axes: what of them is all, and what of it is seen. */
export function axesOf(across: [number, number], up: [number, number], { lens, isSmall }: DrawingInput) {
  const [x, y] = [across, up].map((ends) => roomAtEnds(ends, isSmall ? 3 : 6)) as [Ends, Ends];
  const plane: Plane = { x: [x.min, x.max], y: [y.min, y.max] };
  if (!lens) return { plane, x, y, seen: plane };
  const seen = seenThrough(lens, plane);
  const part = ([min, max]: [number, number]): Ends => ({ min, max });
  return { plane, x: part(seen.x), y: part(seen.y), seen };
}

/** What an axis of figures is like; where it is a part, its ends are no round numbers and not written. */
export const axisOf = (column: ColumnInfo, { min, max, interval }: Ends, t: Tokens) => ({
  type: 'value',
  scale: true,
  min,
  max,
  ...(interval === undefined ? {} : { interval }),
  name: [column.title, formatOf(column).unit].filter(Boolean).join(', '),
  nameLocation: 'middle',
  nameTextStyle: { color: t.quiet, fontSize: t.size },
  axisLabel: {
    ...figureLabels(formatOf(column), t),
    ...(interval === undefined ? { showMinLabel: false, showMaxLabel: false } : {}),
  },
});

/** The ends of an axis with a little room beyond its figures, at round numbers. Where none is negative, no axis tells of such. */
const roomAtEnds = ([least, most]: [number, number], steps: number): Ends => {
  const room = (most - least || Math.abs(most) || 1) * 0.04;
  const { interval } = scaleOf([0, most - least + 2 * room], steps);
  const at = (v: number) => Number((v * interval).toPrecision(12));
  const [min, max] = [at(Math.floor((least - room) / interval)), at(Math.ceil((most + room) / interval))];
  return { min: least >= 0 ? Math.max(0, min) : min, max: most <= 0 ? Math.min(0, max) : max, interval };
};
