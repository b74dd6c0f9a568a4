import { isWired, type Wire } from '../../design/written';
import classes from '../dashboard.module.css';
import type { Box } from './boxes';

interface Props {
  tile: string;
  box: Box;
  /** Of all tiles of the dashboard; those of tiles that stand elsewhere are on no line. */
  wires: Wire[];
  isHere: (tile: string) => boolean;
  /** True while the dashboard is designed. */
  isDesigned: boolean;
  /** The tile that a line is drawn from. */
  from: string | undefined;
  /** True if the pointer or the keyboard is on it. */
  isAt: boolean;
  onAt: (tile: string | undefined) => void;
  /** A line may begin here. */
  onBegin: (tile: string) => void;
  onKey: (tile: string) => void;
}

/** A tile as it lies in the picture of who drives whom, and how many drive it. */
export function WiredTile({ tile, box, wires, isHere, isDesigned, from, isAt, onAt, onBegin, onKey }: Props) {
  const lines = wires.filter((w) => isHere(w.driver) && isHere(w.follower));
  const into = lines.filter((w) => w.follower === tile && !w.reason).length;
  const refused = lines.filter((w) => w.follower === tile && w.reason);
  return (
    <button
      type="button"
      className={classes.wired}
      style={{ left: box.x, top: box.y, width: box.width, height: box.height }}
      data-exempt={refused.length > 0 && into === 0}
      data-wire={tile}
      data-from={from === tile || undefined}
      aria-pressed={isDesigned ? from === tile : undefined}
      onPointerDown={(e) => {
        if (isDesigned && e.button === 0) onBegin(tile);
      }}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' && e.key !== ' ') return;
        e.preventDefault();
        if (isDesigned) onKey(tile);
      }}
      onPointerEnter={() => onAt(tile)}
      onPointerLeave={() => onAt(undefined)}
      onFocus={() => onAt(tile)}
      onBlur={() => onAt(undefined)}
      onClick={() => onAt(tile)}
    >
      <span>
        <span className="hidden-visually">{tile}: </span>
        {from !== undefined && from !== tile && isAt
          ? isWired(wires, from, tile)
            ? `Take the line from ${from} away`
            : `Draw a line from ${from}`
          : wordsOf(tile, wires, lines, into, isHere)}
        {isAt && refused.length > 0 && (
          <small>
            {[...new Set(refused.map((r) => r.sentence))].slice(0, 4).map((s) => (
              <em key={s}>{s}</em>
            ))}
          </small>
        )}
      </span>
    </button>
  );
}

function wordsOf(tile: string, wires: Wire[], lines: Wire[], into: number, isHere: (tile: string) => boolean): string {
  const driven = wires.filter((w) => w.driver === tile && !w.reason);
  const away = driven.filter((w) => !isHere(w.follower)).length;
  const isUnlinked = lines.some((w) => w.follower === tile && w.reason === 'NoCounterpart');
  return [
    wires.some((w) => w.driver === tile) ? `drives ${driven.length}` : 'drives none',
    `follows ${into}`,
    ...(isUnlinked ? ['not linked to some'] : []),
    ...(away > 0 ? [`${away} on other tabs`] : []),
  ].join(', ');
}
