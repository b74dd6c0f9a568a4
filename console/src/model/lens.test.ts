import { expect, test } from 'vitest';
import { draggedBy, type Lens, type Plane, seenThrough, zoomedAt } from './lens';

const plane: Plane = { x: [0, 100], y: [-10, 30] };

test('Whatever is turned and dragged, what is seen lies within the plane, and the point at the pointer stays where it is', () => {
  let seed = 7;
  const random = () => {
    seed = (seed * 48271) % 2147483647;
    return seed / 2147483647;
  };
  let lens: Lens | undefined;
  for (let i = 0; i < 2_000; i++) {
    const before = seenThrough(lens, plane);
    const at: [number, number] = [
      before.x[0] + random() * (before.x[1] - before.x[0]),
      before.y[0] + random() * (before.y[1] - before.y[0]),
    ];
    const isIn = random() < 0.55;
    const was = lens;
    lens =
      lens && random() < 0.3
        ? draggedBy(lens, plane, [random() * 20 - 10, random() * 8 - 4])
        : zoomedAt(lens, plane, isIn ? 0.8 : 1.25, at);
    const seen = seenThrough(lens, plane);
    for (const axis of ['x', 'y'] as const) {
      expect(seen[axis][0]).toBeGreaterThanOrEqual(plane[axis][0] - 1e-6);
      expect(seen[axis][1]).toBeLessThanOrEqual(plane[axis][1] + 1e-6);
      expect(seen[axis][1]).toBeGreaterThan(seen[axis][0]);
    }
    // Going in, nothing at the edges holds the point back.
    if (isIn && lens && was === undefined) {
      const share = (p: Plane) => (at[0] - p.x[0]) / (p.x[1] - p.x[0]);
      expect(share(seen)).toBeCloseTo(share(before), 6);
    }
  }
});

test('Going out leads back to all of it, and nothing is larger than there is a use for', () => {
  const near = zoomedAt(undefined, plane, 0.5, [20, 0]);
  expect(near).toEqual({ x: 35, y: 5, times: 2 });
  expect(zoomedAt(near, plane, 4)).toBeUndefined();
  expect(zoomedAt(undefined, plane, 1.25)).toBeUndefined();
  let lens: Lens | undefined;
  for (let i = 0; i < 100; i++) lens = zoomedAt(lens, plane, 0.5);
  expect(lens?.times).toBe(64);
});
