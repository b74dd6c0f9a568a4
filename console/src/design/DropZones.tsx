import { useState } from 'react';
import type { TileInfo } from '../api/client';
import classes from './design.module.css';
import { type Designing, useDesign } from './useDesign';
import { landings, tilesOf, word } from './written';

/** While a measure or a field is carried, a tile shows what it would become of it, and where it does not fit why. */
export default function DropZones({ tile: { name, title } }: { tile: TileInfo }) {
  const design = useDesign() as Designing;
  const [over, setOver] = useState<string>();
  const { carried } = design;
  const tile = tilesOf(design.said).find((t) => t.name === name);
  const picture = design.pictures.find((p) => p.name === word(tile?.says.picture));
  if (!carried || !tile || !picture) return null;
  const dataset = design.datasets.find((d) => d.name === carried.dataset);
  return (
    <div className={classes.zones} role="group" aria-label={`Drop on ${title}`}>
      {landings(tile, picture, dataset, carried).map((l) => (
        <div
          key={l.place}
          role="group"
          className={classes.zone}
          data-zone={l.place}
          data-over={over === l.place}
          data-unfit={l.unfit !== undefined}
          onDragEnter={() => setOver(l.place)}
          onDragLeave={() => setOver(undefined)}
          onDragOver={(e) => {
            if (l.unfit) return;
            e.preventDefault();
            e.dataTransfer.dropEffect = 'copy';
          }}
          onDrop={(e) => {
            e.preventDefault();
            design.carry(undefined);
            design.select(name);
            void design.take(l.steps);
          }}
        >
          {l.unfit ? `Not ${l.place === 'show' ? 'shown' : l.place}: ${l.unfit}` : l.says}
        </div>
      ))}
    </div>
  );
}
