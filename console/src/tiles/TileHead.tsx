import { Button } from '@mantine/core';
import { EllipsisVertical, Filter, GripVertical, Pencil, Unlink } from 'lucide-react';
import { lazy, useEffect, useState } from 'react';
import type { TileInfo } from '../api/client';
import { useDispatch, usePage } from '../dashboard/usePage';
import { useDesign } from '../design/useDesign';
import { MenuButton } from '../look/MenuButton';
import { largeOf } from '../model/page/large';
import type { TileState } from '../model/tileState';
import { DrawnMark } from './DrawnMark';
import { filterText } from './shown';
import classes from './tiles.module.css';

const loadMenu = () => import('./TileMenu');
const TileMenu = lazy(loadMenu);

// The same with each frame of a drag: nothing of them is drawn anew then.
const filterIcon = <Filter size={12} aria-hidden />;
const menuIcon = <EllipsisVertical size={15} aria-hidden />;

/** The title of a tile, what is to be known of it, and what can be done to it. */
export function TileHead({ tile, state }: { tile: TileInfo; state: TileState }) {
  const dispatch = useDispatch();
  const arranging = usePage((s) => s.isArranging);
  const isLarge = usePage((s) => largeOf(s) === tile.name);
  const design = useDesign();
  const { result, runningSince } = state;
  const isPlain = tile.dataset === null;
  if (isPlain && !arranging && !design && !tile.title) return null;
  return (
    <header className={classes.head} data-bare={!tile.title && !arranging && !design}>
      {arranging && !tile.isInPanel && tile.may.includes('move') && (
        <GripVertical size={16} data-handle className={classes.handle} aria-hidden />
      )}
      <h2 className={classes.title} title={tile.description ?? tile.title}>
        {tile.title || tile.alt || 'Text'}
      </h2>
      <Unlinked tile={tile} result={result} />
      <DrawnMark tile={tile} />
      <FilteredBy tile={tile} result={result} />
      {!isPlain && result?.readAt && <Running since={runningSince} onCancel={() => dispatch({ type: 'stop' })} />}
      {design && (
        <button
          type="button"
          className={classes.markButton}
          aria-label={`Design ${tile.title || tile.name}`}
          title="Design this tile"
          onClick={() => design.select(tile.name)}
        >
          <Pencil size={13} aria-hidden />
        </button>
      )}
      {isLarge && (
        <Button size="compact-xs" variant="default" onClick={() => dispatch({ type: 'enlarge', tile: null })}>
          Back to all tiles
        </Button>
      )}
      {((!isPlain && tile.hasTools) || arranging) && (
        <MenuButton label={`Menu of ${tile.title}`} icon={menuIcon} className={classes.menu} load={loadMenu}>
          <TileMenu tile={tile} readAt={result?.readAt} />
        </MenuButton>
      )}
    </header>
  );
}

/** Which selections do not filter a tile, and why. */
function Unlinked({ tile, result }: { tile: TileInfo; result: TileState['result'] }) {
  const unlinked = (result?.filters?.notApplied ?? []).flatMap((n) =>
    n.reason === 'NoCounterpart' ? [n.tileTitle] : [],
  );
  return (
    <>
      {tile.follows === 'none' && tile.dataset !== null && (
        <span className={classes.mark} title="Follows no other tile: selections elsewhere do not filter it.">
          <Unlink size={13} aria-hidden /> <span className="hidden-visually">Follows no other tile</span>
        </span>
      )}
      {unlinked.length > 0 && (
        <span
          className={classes.mark}
          title={`Not filtered by ${unlinked.join(', ')}: these data have no field that means what is picked there.`}
        >
          <Unlink size={13} aria-hidden /> <span className="hidden-visually">Not linked to {unlinked.join(', ')}</span>
        </span>
      )}
    </>
  );
}

/** How many selections filter a tile; where its figures come from tells all. */
function FilteredBy({ tile, result }: { tile: TileInfo; result: TileState['result'] }) {
  const dispatch = useDispatch();
  const filters = result?.filters?.applied.length ?? 0;
  if (filters === 0) return null;
  return (
    <button
      type="button"
      className={classes.markButton}
      onClick={() => dispatch({ type: 'explain', tile: tile.name })}
      title={filterText(result)}
      aria-label={`Filtered by ${filters}: ${filterText(result)}`}
    >
      {filterIcon} {filters}
    </button>
  );
}

/** Says for how long a slow question has been running, and lets the viewer stop it. */
function Running({ since, onCancel }: { since?: number; onCancel: () => void }) {
  const [now, setNow] = useState(0);
  useEffect(() => {
    if (since === undefined) return;
    setNow(since);
    const timer = setInterval(() => setNow(performance.now()), 1000);
    return () => clearInterval(timer);
  }, [since]);
  if (since === undefined || now - since < 1500) return null;
  return (
    <Button size="compact-xs" variant="subtle" onClick={onCancel}>
      {Math.round((now - since) / 1000)} s · stop
    </Button>
  );
}
