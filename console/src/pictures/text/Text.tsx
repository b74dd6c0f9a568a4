import classes from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';

/** Words; blank lines part paragraphs. */
export default function TextPicture({ tile }: PictureProps) {
  return (
    <div className={classes.text}>
      {(tile.text ?? '').split(/\n\s*\n/).map((p) => (
        <p key={p}>{p}</p>
      ))}
    </div>
  );
}
