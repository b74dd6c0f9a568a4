import { Button } from '@mantine/core';
import { EllipsisVertical, Filter, GripVertical, Pencil, Unlink } from 'lucide-react';
import { lazy, memo, Suspense, useCallback, useEffect, useMemo, useState } from 'react';
import type { TileInfo } from '../api/client';
import { useDispatch, usePage, usePageStore } from '../dashboard/usePage';
import { useDesign } from '../design/useDesign';
import { MenuButton } from '../look/MenuButton';
import { useRested } from '../look/useRested';
import { inOrderOf } from '../model/order';
import { isWaiting } from '../model/page/figures';
import { hiddenIn } from '../model/page/hidden';
import { largeOf } from '../model/page/large';
import { tableIn } from '../model/page/tables';
import { back, drawnAs, pathLabels, type Selection } from '../model/selections';
import type { TileState } from '../model/tileState';
import { pictureOf } from '../pictures';
import { noFigures, type PictureProps } from '../pictures/PictureProps';
import { commonScale, endsOfFigures, withOutliers } from '../pictures/parts/scale';
import { Shown } from '../pictures/Shown';
import { differenceOf } from './compare';
import { DrawnMark } from './DrawnMark';
import { Notes } from './Notes';
import classes from './tiles.module.css';
import { usePick } from './usePick';

// Ends of a range come apart, with what draws them.
const RangeEnds = lazy(() => import('../pictures/parts/RangeEnds').then((m) => ({ default: m.RangeEnds })));

const loadMenu = () => import('./TileMenu');
const TileMenu = lazy(loadMenu);

const DropZones = lazy(() => import('../design/DropZones'));

// The same with each frame of a drag: nothing of them is drawn anew then.
const filterIcon = <Filter size={12} aria-hidden />;
const menuIcon = <EllipsisVertical size={15} aria-hidden />;

/** A tile of which nothing is known yet. */
const unknown: TileState = {};

/** A tile, and what its parts are shown with. */
interface Props {
  tile: TileInfo;
  state: TileState;
  selection?: Selection;
}

/** The frame of a tile: title, what filters it, its menu, and its state. It observes what it shows, and nothing else. */
export const TileFrame = memo(function TileFrame({ tile }: { tile: TileInfo }) {
  const dispatch = useDispatch();
  const state = usePage((s) => s.tiles[tile.name]) ?? unknown;
  const selection = usePage((s) => s.selections[tile.name]);
  const arranging = usePage((s) => s.isArranging);
  const isCompared = usePage((s) => s.pinned !== undefined);
  const answers = usePage((s) => s.cells[tile.name]?.isWhole === true);
  const isLarge = usePage((s) => largeOf(s) === tile.name);
  const waits = usePage((s) => isWaiting(s, tile));
  const design = useDesign();
  const { result, failure, runningSince } = state;
  const problem = failure ?? (result?.state === 'failed' ? result.problem : undefined);
  const filters = result?.filters?.applied.length ?? 0;
  const unlinked = (result?.filters?.notApplied ?? []).flatMap((n) =>
    n.reason === 'NoCounterpart' ? [n.tileTitle] : [],
  );
  const kind = pictureOf(tile);
  const isPlain = tile.dataset === null;
  const approach = tile.pick === 'none' ? undefined : () => dispatch({ type: 'approach', tile: tile.name });

  return (
    <section
      className={classes.tile}
      data-tile={tile.name}
      data-picture={tile.picture}
      data-state={
        runningSince
          ? 'running'
          : waits
            ? 'on request'
            : problem
              ? 'failed'
              : result || tile.dataset === null
                ? 'ready'
                : 'waiting'
      }
      aria-label={tile.title || tile.alt || 'Text'}
      aria-busy={runningSince !== undefined}
      data-answers={answers}
      data-designed={design?.selected === tile.name || undefined}
      onPointerEnter={approach}
      onFocus={approach}
      onTouchStart={approach}
    >
      {runningSince !== undefined && <div className={classes.line} aria-hidden />}
      {(!isPlain || arranging || design || tile.title) && (
        <header className={classes.head} data-bare={!tile.title && !arranging && !design}>
          {arranging && !tile.isInPanel && tile.may.includes('move') && (
            <GripVertical size={16} data-handle className={classes.handle} aria-hidden />
          )}
          <h2 className={classes.title} title={tile.description ?? tile.title}>
            {tile.title || tile.alt || 'Text'}
          </h2>
          {tile.follows === 'none' && !isPlain && (
            <span className={classes.mark} title="Follows no other tile: selections elsewhere do not filter it.">
              <Unlink size={13} aria-hidden /> <span className="hidden-visually">Follows no other tile</span>
            </span>
          )}
          {unlinked.length > 0 && (
            <span
              className={classes.mark}
              title={`Not filtered by ${unlinked.join(', ')}: these data have no field that means what is picked there.`}
            >
              <Unlink size={13} aria-hidden />{' '}
              <span className="hidden-visually">Not linked to {unlinked.join(', ')}</span>
            </span>
          )}
          <DrawnMark tile={tile} />
          {filters > 0 && (
            <button
              type="button"
              className={classes.markButton}
              onClick={() => dispatch({ type: 'explain', tile: tile.name })}
              title={filterText(result)}
              aria-label={`Filtered by ${filters}: ${filterText(result)}`}
            >
              {filterIcon} {filters}
            </button>
          )}
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
      )}
      {design?.carried && (
        <Suspense>
          <DropZones tile={tile} />
        </Suspense>
      )}
      {selection?.path && selection.path.length > 0 && <Path tile={tile} selection={selection} />}
      <div className={classes.body} data-faint={runningSince !== undefined && result !== undefined}>
        {waits ? (
          <Waiting tile={tile} wasThere={result !== undefined} />
        ) : isCompared && !kind.isControl && !isPlain && !tile.waits ? (
          <Sides tile={tile} state={state} selection={selection} problem={problem} />
        ) : (
          <Content tile={tile} state={state} selection={selection} problem={problem} />
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

/** The opened levels; each step leads back, and what was picked there comes back with it. */
function Path({ tile, selection }: { tile: TileInfo; selection: Selection }) {
  const labels = pathLabels(tile, selection);
  const onSelect = usePick(tile);
  return (
    <nav className={classes.path} aria-label={`Opened in ${tile.title}`}>
      <button type="button" onClick={() => onSelect(back(selection, 0))}>
        {tile.levels[0]?.title ?? 'All'}
      </button>
      {labels.map((text, i) => (
        <span key={text}>
          {' › '}
          {i < labels.length - 1 ? (
            <button type="button" onClick={() => onSelect(back(selection, i + 1))}>
              {text}
            </button>
          ) : (
            <b>{text}</b>
          )}
        </span>
      ))}
      <span> › by {tile.levels[labels.length]?.title.toLowerCase()}</span>
    </nav>
  );
}

/** A and B beside each other, drawn at equal scale, with their difference in words. */
function Sides(props: Props & { problem?: ComponentProblem }) {
  const { state, tile } = props;
  const compared = usePage((s) => s.compared[tile.name]) ?? unknown;
  const selection = usePage((s) => s.pinned?.[tile.name]);
  const [own, b] = [compared.result?.table, state.result?.table];
  const a = useMemo(() => (own && b ? inOrderOf(own, b) : own), [own, b]);
  const pinned = useMemo(
    () => ({ ...compared, result: compared.result && { ...compared.result, table: a ?? null } }),
    [compared, a],
  );
  const [ofA, ofB] = [compared.result, state.result];
  const scale = useMemo(
    () => (a && b ? withOutliers(commonScale(tile, pictureOf(tile).stacks, a, b), ofA, ofB) : undefined),
    [tile, a, b, ofA, ofB],
  );
  const ends = useMemo(() => (a && b ? endsOfFigures(a, b) : undefined), [a, b]);
  const [isSaid, setSaid] = useState(false);
  const failure = compared.failure ?? (compared.result?.state === 'failed' ? compared.result.problem : undefined);
  return (
    <>
      <div className={classes.sides} data-narrow={pictureOf(tile).isSmall}>
        <div className={classes.side} data-side="A">
          <span className={classes.sideName}>A, pinned</span>
          <Content
            tile={tile}
            state={pinned}
            selection={selection}
            scale={scale}
            ends={ends}
            problem={failure}
            onPick={() => setSaid(true)}
          />
        </div>
        <div className={classes.side} data-side="B">
          <span className={classes.sideName}>B, now</span>
          <Content {...props} scale={scale} ends={ends} />
        </div>
      </div>
      {isSaid && (
        <p className={classes.foot} role="status">
          A stays as it was pinned. Pick in B, or go on with A.
        </p>
      )}
      {a && b && (
        <footer className={classes.foot} data-difference>
          {differenceOf(a, b)}
        </footer>
      )}
    </>
  );
}

type ComponentProblem = { detail: string; remedy?: string | null; code: string } | null;

function filterText(result: TileState['result']): string {
  return (result?.filters?.applied ?? [])
    .map((f) => `${f.fields}: ${f.members.slice(0, 3).join(', ')}${f.members.length > 3 ? ' …' : ''}`)
    .join('; ');
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

interface ContentProps extends Props {
  problem?: ComponentProblem;
  scale?: [number, number];
  ends?: [number, number][];
  /** What becomes of a pick, where it is none of the tile. */
  onPick?: () => void;
}

function Content({ tile, state, selection, problem, scale, ends, onPick }: ContentProps) {
  const store = usePageStore();
  const weekStarts = usePage((s) => s.page.weekStarts);
  const pick = usePick(tile);
  const onSelect = onPick ?? pick;
  const onFind = useCallback<PictureProps['onFind']>(
    (piece, signal) => store.find(tile.name, piece, signal),
    [store, tile.name],
  );
  const onFile = useCallback((signal: AbortSignal) => store.file(tile.name, signal), [store, tile.name]);
  const hidden = usePage((s) => hiddenIn(s, tile));
  const onHide = useCallback(
    (names: readonly string[]) => store.dispatch({ type: 'hide series', tile: tile.name, names }),
    [store, tile.name],
  );
  const table = usePage((s) => tableIn(s, tile));
  const mayArrange = usePage((s) => s.page.mayArrange);
  const onTable = useCallback<NonNullable<PictureProps['onTable']>>(
    (table) => store.dispatch({ type: 'columns', tile: tile.name, table: table ?? null }),
    [store, tile.name],
  );
  const lines = usePage((s) => s.lines[tile.name]);
  const onLines = useCallback<NonNullable<PictureProps['onLines']>>(
    (lines) => store.dispatch({ type: 'lines', tile: tile.name, lines }),
    [store, tile.name],
  );
  const window = usePage((s) => s.windows[tile.name]);
  const rested = useRested(
    selection,
    usePage((s) => s.live !== undefined),
  );
  const onWindow = useCallback<NonNullable<PictureProps['onWindow']>>(
    (window) => store.dispatch({ type: 'window', tile: tile.name, window }),
    [store, tile.name],
  );
  const { result } = state;
  const kind = pictureOf(tile);
  if (problem)
    return (
      <div className={classes.message} role="alert">
        <p>
          <b>{problem.detail}</b>
        </p>
        {problem.remedy && <p className="quiet">{problem.remedy}</p>}
        <Button size="compact-sm" variant="default" onClick={() => store.dispatch({ type: 'retry', tile: tile.name })}>
          Try again
        </Button>
      </div>
    );
  const given = {
    tile,
    weekStarts,
    selection,
    isPassing: state.isPassing,
    onSelect,
    onFind,
    onFile,
    hidden,
    onHide,
    table,
    // Who may not move a tile has no columns of it to keep in a view; nor has the page of a draft, which is no view.
    onTable: mayArrange && tile.may.includes('move') ? onTable : undefined,
    lines,
    onLines,
    window,
    onWindow,
    scale,
    ends,
  };
  if (tile.dataset === null) return <Shown {...given} kind={kind} result={noFigures} />;
  // Figures of another drawing of this tile are not shown; those that fit are on their way.
  if (!result?.table || (state.of !== undefined && state.of !== drawnAs(tile))) return null;
  const drawn = { ...result, table: result.table };
  if (kind.saysEmpty) return <Shown {...given} kind={kind} result={drawn} />;
  const rows = result.table.values[0]?.length ?? 0;
  if (rows === 0)
    return (
      <div className={classes.message}>
        <p>
          {result.note ??
            `No rows meet ${result.filters?.applied.length ? `the filters: ${filterText(result)}.` : 'the conditions of this tile.'}`}
        </p>
      </div>
    );
  return (
    <>
      <Shown {...given} kind={kind} result={drawn} />
      {tile.pick === 'range' && !scale && ['date', 'timestamp'].includes(tile.by[0]?.kind ?? '') && (
        <Suspense fallback={comingEnds}>
          <RangeEnds selection={rested} onSelect={onSelect} weekStarts={weekStarts} />
        </Suspense>
      )}
      <Notes result={drawn} rows={rows} />
    </>
  );
}

/** Holds the place of what comes below: a picture that shrank would not be where a pointer saw it. */
const comingEnds = (
  <div className={classes.ends} aria-hidden>
    <span />
    <span />
    <span />
  </div>
);
