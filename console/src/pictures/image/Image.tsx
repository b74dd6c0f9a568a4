import { useEffect, useState } from 'react';
import classes from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';

/** A file of the workspace; its words stand in its place until it is there, and where it can't be had. */
export default function ImagePicture({ tile, onFile }: PictureProps) {
  const { file } = tile;
  const [shown, setShown] = useState<{ file: string | null; src: string }>();
  useEffect(() => {
    if (!file || !onFile) return;
    const stop = new AbortController();
    onFile(stop.signal).then(
      (src) => setShown({ file, src }),
      // What can't be had is told in words, as for whoever can't see it.
      () => stop.signal.aborted || setShown(undefined),
    );
    return () => stop.abort();
  }, [file, onFile]);
  return shown?.file === file ? (
    <img className={classes.image} src={shown.src} alt={tile.alt ?? ''} />
  ) : (
    <p className="quiet">{tile.alt}</p>
  );
}
