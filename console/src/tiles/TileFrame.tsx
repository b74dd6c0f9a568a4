import { Button } from '@mantine/core';
import { lazy, memo, Suspense } from 'react';
import type { TileInfo } from '../api/client';
import { useDispatch, usePage } from '../dashboard/usePage';
import { useDesign } from '../design/useDesign';
import { isWaiting } from '../model/page/figures';
import type { TileState } from '../model/tileState';
import { pictureOf } from '../pictures';
import { Content } from './Content';
import { Sides } from './Sides';
import { problemOf, unknown } from './shown';
import { TileHead } from './TileHead';
import { TilePath } from './TilePath';
import classes from './tiles.module.css';

const DropZones = lazy(() => import('../design/DropZones'));

/** How a tile stands, in a word. */
function standOf(tile: TileInfo, state: TileState, waits: boolean): string {
  if (state.runningSince) return 'running';
  if (waits) return 'on request';
  if (problemOf(state)) return 'failed';
  return state.result || tile.dataset === null ? 'ready' : 'waiting';
}

/** The frame of a tile: title, what filters it, its menu, and its state. It observes what it shows, and nothing else. */
export const TileFrame = memo(function TileFrame({ tile }: { tile: TileInfo }) {
  const dispatch = useDispatch();
  const state = usePage((s) => s.tiles[tile.name]) ?? unknown;
  const selection = usePage((s) => s.selections[tile.name]);
  const isCompared = usePage((s) => s.pinned !== undefined);
  const answers = usePage((s) => s.cells[tile.name]?.isWhole === true);
  const waits = usePage((s) => isWaiting(s, tile));
  const design = useDesign();
  const isRunning = state.runningSince !== undefined;
  const hasSides = isCompared && !pictureOf(tile).isControl && tile.dataset !== null && !tile.waits;
  const approach = tile.pick === 'none' ? undefined : () => dispatch({ type: 'approach', tile: tile.name });
  const shown = { tile, state, selection };

  return (
    <section
      className={classes.tile}
      data-tile={tile.name}
      data-picture={tile.picture}
      data-state={standOf(tile, state, waits)}
      aria-label={tile.title || tile.alt || 'Text'}
      aria-busy={isRunning}
      data-answers={answers}
      data-designed={design?.selected === tile.name || undefined}
      onPointerEnter={approach}
      onFocus={approach}
      onTouchStart={approach}
    >
      {isRunning && <div className={classes.line} aria-hidden />}
      <TileHead tile={tile} state={state} />
      {design?.carried && (
        <Suspense>
          <DropZones tile={tile} />
        </Suspense>
      )}
      {selection?.path && selection.path.length > 0 && <TilePath tile={tile} selection={selection} />}
      <div className={classes.body} data-faint={isRunning && state.result !== undefined}>
        {waits ? (
          <Waiting tile={tile} wasThere={state.result !== undefined} />
        ) : hasSides ? (
          <Sides {...shown} />
        ) : (
          <Content {...shown} />
        )}
      </div>
    </section>
  );
});

/** What takes long is asked for when somebody wants it. */
function Waiting({ tile, wasThere }: { tile: TileInfo; wasThere: boolean }) {
  const dispatch = useDispatch();
  return (
    <div className={classes.message} data-waits>
      <p className="quiet">
        {wasThere ? 'What filters it has changed.' : 'It takes a while: it is asked for when you want it.'}
      </p>
      <Button size="compact-sm" variant="default" onClick={() => dispatch({ type: 'retry', tile: tile.name })}>
        {wasThere ? 'Show it anew' : 'Show it'}
      </Button>
    </div>
  );
}
