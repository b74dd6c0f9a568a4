import type { Wire } from '../../design/written';
import { type Boxes, middleOf, type Point } from './boxes';

/**
 * The lines from those who drive to those who follow.
 * @param seen The tile whose lines stand out; all alike if left out.
 * @param drawn The line that is being drawn.
 */
export function Wires({
  wires,
  boxes,
  seen,
  drawn,
}: {
  wires: Wire[];
  boxes: Boxes;
  seen: string | undefined;
  drawn: { from: Point; to: Point } | undefined;
}) {
  return (
    <svg aria-hidden width="100%" height="100%">
      <defs>
        <marker id="wire-end" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="8" markerHeight="8" orient="auto">
          <path d="M0 0 L8 4 L0 8 z" fill="var(--accent)" />
        </marker>
      </defs>
      {drawn && (
        <path
          d={`M${drawn.from.x} ${drawn.from.y} L${drawn.to.x} ${drawn.to.y}`}
          stroke="var(--accent)"
          strokeWidth={2}
          strokeDasharray="3 3"
          markerEnd="url(#wire-end)"
        />
      )}
      {wires.map((w) => {
        const isOn = seen === undefined || seen === w.driver || seen === w.follower;
        return (
          <path
            key={`${w.driver} ${w.follower}`}
            d={wayOf(boxes, w)}
            fill="none"
            stroke={w.reason ? 'var(--warning)' : 'var(--accent)'}
            strokeDasharray={w.reason ? '5 4' : undefined}
            strokeWidth={seen !== undefined && isOn ? 2 : 1}
            strokeOpacity={isOn ? (seen === undefined ? 0.45 : 0.9) : 0.08}
            markerEnd={isOn && !w.reason ? 'url(#wire-end)' : undefined}
          />
        );
      })}
    </svg>
  );
}

/** Bent to one side, so that the two ways of a pair are told apart. */
function wayOf(boxes: Boxes, { driver, follower }: Wire): string | undefined {
  const [from, to] = [boxes[driver], boxes[follower]];
  if (!from || !to) return undefined;
  const [a, b] = [middleOf(from), middleOf(to)];
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const bend = { x: (a.x + b.x) / 2 - dy * 0.12, y: (a.y + b.y) / 2 + dx * 0.12 };
  const end = { x: b.x - dx * 0.12, y: b.y - dy * 0.12 };
  return `M${a.x} ${a.y} Q${bend.x} ${bend.y} ${end.x} ${end.y}`;
}
