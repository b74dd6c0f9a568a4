import type { CSSProperties } from 'react';
import type { TileInfo } from '../api/client';
import { largeOf } from '../model/page/large';
import { TileFrame } from '../tiles/TileFrame';
import classes from './dashboard.module.css';
import { usePage } from './usePage';

/** The tiles of the open tab at their places, with a line around those of a group. */
export function TileGrid() {
  const tab = usePage((s) => s.tab);
  const tiles = usePage((s) => s.shown);
  const large = usePage(largeOf);
  return (
    <div className={classes.grid} data-large={large !== undefined}>
      {(tab?.groups ?? []).map((g) => (
        <Group key={g.name} title={g.title} tiles={tiles.filter((t) => t.group === g.name)} />
      ))}
      {tiles
        .filter((t) => !t.isInPanel)
        .sort((a, b) => a.place.row - b.place.row || a.place.column - b.place.column)
        .map((t) => (
          <div
            key={t.name}
            className={classes.cell}
            data-large={large === t.name}
            data-kind={t.picture}
            style={
              {
                '--column': `${t.place.column + 1} / span ${t.place.width}`,
                '--row': `${t.place.row + 1} / span ${t.place.height}`,
                '--rows': t.place.height,
              } as CSSProperties
            }
          >
            <TileFrame tile={t} />
          </div>
        ))}
    </div>
  );
}

function Group({ title, tiles }: { title: string; tiles: TileInfo[] }) {
  const places = tiles.map((t) => t.place);
  if (places.length === 0) return null;
  const [left, top] = [Math.min(...places.map((p) => p.column)), Math.min(...places.map((p) => p.row))];
  const right = Math.max(...places.map((p) => p.column + p.width));
  const bottom = Math.max(...places.map((p) => p.row + p.height));
  const place = { '--column': `${left + 1} / ${right + 1}`, '--row': `${top + 1} / ${bottom + 1}` };
  return (
    <div className={classes.group} style={place as CSSProperties}>
      <span>{title}</span>
    </div>
  );
}
