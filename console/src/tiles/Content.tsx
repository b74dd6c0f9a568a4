import { Button } from '@mantine/core';
import { lazy, Suspense, useMemo } from 'react';
import { useDispatch, usePage, usePageStore } from '../dashboard/usePage';
import { useRested } from '../look/useRested';
import { hiddenIn } from '../model/page/hidden';
import { tableIn } from '../model/page/tables';
import { drawnAs } from '../model/selections';
import { pictureOf } from '../pictures';
import { noFigures, type PictureProps } from '../pictures/PictureProps';
import { Shown } from '../pictures/Shown';
import { Notes } from './Notes';
import { filterText, type Problem, problemOf, type TileProps } from './shown';
import classes from './tiles.module.css';
import { usePick } from './usePick';

// Ends of a range come apart, with what draws them.
const RangeEnds = lazy(() => import('../pictures/parts/RangeEnds').then((m) => ({ default: m.RangeEnds })));

interface Props extends TileProps {
  scale?: [number, number];
  ends?: [number, number][];
  /** What becomes of a pick, where it is none of the tile. */
  onPick?: () => void;
}

/** What a tile shows: its picture, or why there is none. */
export function Content(props: Props) {
  const { tile, state, selection, scale } = props;
  const given = useGiven(props);
  const rested = useRested(
    selection,
    usePage((s) => s.live !== undefined),
  );
  const { result } = state;
  const problem = problemOf(state);
  const kind = pictureOf(tile);
  if (problem) return <Failed tile={tile} problem={problem} />;
  if (tile.dataset === null) return <Shown {...given} kind={kind} result={noFigures} />;
  // Figures of another drawing of this tile are not shown; those that fit are on their way.
  if (!result?.table || (state.of !== undefined && state.of !== drawnAs(tile))) return null;
  const drawn = { ...result, table: result.table };
  if (kind.saysEmpty) return <Shown {...given} kind={kind} result={drawn} />;
  const rows = result.table.values[0]?.length ?? 0;
  if (rows === 0) return <Empty result={result} />;
  return (
    <>
      <Shown {...given} kind={kind} result={drawn} />
      {tile.pick === 'range' && !scale && ['date', 'timestamp'].includes(tile.by[0]?.kind ?? '') && (
        <Suspense fallback={comingEnds}>
          <RangeEnds selection={rested} onSelect={given.onSelect} weekStarts={given.weekStarts} />
        </Suspense>
      )}
      <Notes result={drawn} rows={rows} />
    </>
  );
}

/** What a picture is given of the page, and what it does to the page. */
function useGiven({ tile, state, selection, scale, ends, onPick }: Props) {
  const pick = usePick(tile);
  const acts = useActs(tile.name);
  const weekStarts = usePage((s) => s.page.weekStarts);
  const hidden = usePage((s) => hiddenIn(s, tile));
  const table = usePage((s) => tableIn(s, tile));
  const lines = usePage((s) => s.lines[tile.name]);
  const window = usePage((s) => s.windows[tile.name]);
  // Who may not move a tile has no columns of it to keep in a view; nor has the page of a draft, which is no view.
  const mayArrange = usePage((s) => s.page.mayArrange) && tile.may.includes('move');
  return {
    ...acts,
    onTable: mayArrange ? acts.onTable : undefined,
    onSelect: onPick ?? pick,
    isPassing: state.isPassing,
    ...{ tile, weekStarts, selection, hidden, table, lines, window, scale, ends },
  };
}

/** What a picture of a tile can do to the page; the same functions for as long as it stands. */
function useActs(tile: string) {
  const store = usePageStore();
  return useMemo((): Pick<PictureProps, 'onFind' | 'onFile' | 'onHide' | 'onTable' | 'onLines' | 'onWindow'> => {
    const { dispatch } = store;
    return {
      onFind: (piece, signal) => store.find(tile, piece, signal),
      onFile: (signal) => store.file(tile, signal),
      onHide: (names) => dispatch({ type: 'hide series', tile, names }),
      onTable: (table) => dispatch({ type: 'columns', tile, table: table ?? null }),
      onLines: (lines) => dispatch({ type: 'lines', tile, lines }),
      onWindow: (window) => dispatch({ type: 'window', tile, window }),
    };
  }, [store, tile]);
}

/** Why a tile has no figures, what helps, and another try. */
function Failed({ tile, problem }: { tile: TileProps['tile']; problem: Problem }) {
  const dispatch = useDispatch();
  return (
    <div className={classes.message} role="alert">
      <p>
        <b>{problem.detail}</b>
      </p>
      {problem.remedy && <p className="quiet">{problem.remedy}</p>}
      <Button size="compact-sm" variant="default" onClick={() => dispatch({ type: 'retry', tile: tile.name })}>
        Try again
      </Button>
    </div>
  );
}

/** That no rows are left, and of what. */
function Empty({ result }: { result: NonNullable<TileProps['state']['result']> }) {
  const by = result.filters?.applied.length ? `the filters: ${filterText(result)}.` : 'the conditions of this tile.';
  return (
    <div className={classes.message}>
      <p>{result.note ?? `No rows meet ${by}`}</p>
    </div>
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
