/** A part of a plane that is shown, larger: around which point, and how many times as large. */
export interface Lens {
  x: number;
  y: number;
  times: number;
}

/** The whole of a plane: the least and greatest place along both of its axes. */
export interface Plane {
  x: [number, number];
  y: [number, number];
}

/** How many times as large it gets at most. */
const most = 64;

/** True for a lens among what may be shown of a picture. */
export const isLens = (shown: object): shown is Lens => 'times' in shown;

/** The part of a plane that a lens shows; all of it without one. */
export function seenThrough(lens: Lens | undefined, { x, y }: Plane): Plane {
  // Of another plane, as other data have, it shows what there is of its part.
  const kept = lens && within(lens, { x, y });
  if (!kept) return { x, y };
  const around = (at: number, [least, greatest]: [number, number]): [number, number] => {
    const half = (greatest - least) / kept.times / 2;
    return [at - half, at + half];
  };
  return { x: around(kept.x, x), y: around(kept.y, y) };
}

/** A lens whose part lies within the plane; none where it would show all. */
function within({ x, y, times }: Lens, plane: Plane): Lens | undefined {
  if (times <= 1.001) return undefined;
  const inside = (at: number, [least, greatest]: [number, number]) => {
    const half = (greatest - least) / times / 2;
    return Math.max(least + half, Math.min(greatest - half, at));
  };
  return { x: inside(x, plane.x), y: inside(y, plane.y), times };
}

const middle = ([least, greatest]: [number, number]) => (least + greatest) / 2;

/**
 * The lens after zooming in or out; the point at which it is done stays where it is.
 * @param factor How many times as much is shown: less than 1 to see less of it, larger.
 * @param at The point; the middle of what is shown if left out.
 */
export function zoomedAt(
  lens: Lens | undefined,
  plane: Plane,
  factor: number,
  at?: [number, number],
): Lens | undefined {
  const now = lens ?? { x: middle(plane.x), y: middle(plane.y), times: 1 };
  const times = Math.min(most, Math.max(1, now.times / factor));
  const [x, y] = at ?? [now.x, now.y];
  const moved = (centre: number, point: number) => point + ((centre - point) * now.times) / times;
  return within({ x: moved(now.x, x), y: moved(now.y, y), times }, plane);
}

/** The lens moved so that what was at one point is at another. */
export const draggedBy = (lens: Lens, plane: Plane, [dx, dy]: [number, number]): Lens | undefined =>
  within({ ...lens, x: lens.x - dx, y: lens.y - dy }, plane);
