import classes from './design.module.css';
import { type Designing, useDesign } from './useDesign';
import { type Landing, landings, type WrittenTile, word } from './written';

const called: Record<Landing['place'], string> = { show: 'shows', by: 'by', split: 'split by' };

/** The places of a tile's sentence within reach, while a measure or field is carried: the sentence itself may be scrolled away. */
export function DropStrip({ tile }: { tile: WrittenTile }) {
  const design = useDesign() as Designing;
  const { carried } = design;
  const picture = design.pictures.find((p) => p.name === word(tile.says.picture));
  if (!carried || !picture) return null;
  const dataset = design.datasets.find((d) => d.name === word(tile.says.dataset));
  return (
    <ul className={classes.dropStrip} aria-label={`Places of ${tile.name}`}>
      {landings(tile, picture, dataset, carried).map((l) => (
        <li
          key={l.place}
          data-fits={l.unfit === undefined}
          onDragOver={(e) => {
            if (l.unfit === undefined) e.preventDefault();
          }}
          onDrop={(e) => {
            if (l.unfit !== undefined) return;
            e.preventDefault();
            design.carry(undefined);
            void design.take(l.steps);
          }}
        >
          <b>{called[l.place]}</b> {l.unfit === undefined ? l.says : `Not here: ${l.unfit}`}
        </li>
      ))}
    </ul>
  );
}
