import classes from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';

/** In place of a kind of picture that came to the service after this page was loaded. */
export default function UnknownPicture({ tile }: PictureProps) {
  return (
    <p role="alert" className={classes.message}>
      This page does not know the picture {tile.picture} yet. Load it anew.
    </p>
  );
}
