import type { TileInfo } from '../api/client';
import { back, pathLabels, type Selection } from '../model/selections';
import classes from './tiles.module.css';
import { usePick } from './usePick';

/** The opened levels; each step leads back, and what was picked there comes back with it. */
export function TilePath({ tile, selection }: { tile: TileInfo; selection: Selection }) {
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
