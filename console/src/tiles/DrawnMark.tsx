import { Brush } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import type { TileInfo } from '../api/client';
import { useDispatch, usePage } from '../dashboard/usePage';
import { drawnOtherwise } from '../model/page/hidden';
import { linesOtherwise } from '../model/page/tables';
import { pictureOf } from '../pictures';
import classes from './tiles.module.css';

const loadChoice = () => import('./LinesChoice');
const LinesChoice = lazy(loadChoice);

/** Tells that a tile is drawn, or its lines sorted or filtered, otherwise than it was defined: in this visit, or in the viewer's view. */
export function DrawnMark({ tile }: { tile: TileInfo }) {
  const dispatch = useDispatch();
  const drawn = usePage((s) => drawnOtherwise(s, tile));
  const lines = usePage((s) => (pictureOf(tile).hasLines ? linesOtherwise(s, tile) : null));
  const [isOpen, setOpen] = useState(false);
  if (drawn === null && lines === null) return null;
  const isVisit = drawn === 'visit' || lines === 'visit';
  const mayDraw = tile.may.includes('draw');
  const words = (
    <>
      <Brush size={12} aria-hidden /> {isVisit ? 'this visit' : 'my view'}
    </>
  );
  if (drawn === null)
    return (
      <Suspense fallback={<span className={classes.markButton}>{words}</span>}>
        {isOpen ? (
          <LinesChoice tile={tile} words={words} onClose={() => setOpen(false)} />
        ) : (
          <button
            type="button"
            className={classes.markButton}
            aria-haspopup="dialog"
            aria-expanded={false}
            onPointerEnter={() => void loadChoice().catch(() => undefined)}
            onClick={() => setOpen(true)}
            title={
              isVisit
                ? 'Its lines are sorted or filtered for this visit; keep that, or go back'
                : 'Its lines are sorted or filtered in your view; go back to how it was defined'
            }
          >
            {words}
          </button>
        )}
      </Suspense>
    );
  return (
    <button
      type="button"
      className={classes.markButton}
      // Where the viewer may not draw it otherwise, only what the legend hides can be: it is shown again.
      onClick={() => {
        dispatch({ type: mayDraw ? 'redraw' : 'hide series', tile: tile.name });
        if (!mayDraw) dispatch({ type: 'lines', tile: tile.name });
      }}
      title={
        !mayDraw
          ? 'Some of it is hidden for this visit; show all again'
          : isVisit
            ? 'Drawn otherwise for this visit; keep it, or go back'
            : 'Drawn otherwise in your view; go back to how it was defined'
      }
    >
      {words}
    </button>
  );
}
