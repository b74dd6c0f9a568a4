import { registerMap } from 'echarts/core';
import { useEffect, useMemo, useState } from 'react';
import type { PictureProps } from '../PictureProps';
import { ChartTile } from '../parts/ChartTile';
import type { Draw } from '../parts/drawing';
import type { Areas } from './draw';

/**
 * A picture over the areas of its tile's file, once that is there.
 * @param drawOn How it is drawn on them, by what the drawing library knows them by.
 */
export function MapTile({
  drawOn,
  words,
  ...props
}: PictureProps & { drawOn: (areas: Areas, name: string) => Draw; words: string }) {
  const { tile, onFile } = props;
  const { file } = tile;
  const [brought, setBrought] = useState<{ file: string; areas?: Areas; problem?: string }>();
  useEffect(() => {
    if (!file || !onFile) return;
    const stop = new AbortController();
    onFile(stop.signal).then(
      (address) => setBrought({ file, areas: read(address) }),
      (e: Error) => stop.signal.aborted || setBrought({ file, problem: e.message }),
    );
    return () => stop.abort();
  }, [file, onFile]);
  const areas = brought?.file === file ? brought?.areas : undefined;
  const draw = useMemo(() => {
    if (!areas || !file) return undefined;
    // By its content: another file of the same name is another map.
    registerMap(`areas ${file}`, areas as Parameters<typeof registerMap>[1]);
    return drawOn(areas, `areas ${file}`);
  }, [areas, file, drawOn]);
  if (brought?.file === file && brought?.problem) return <p role="alert">{brought.problem}</p>;
  // The size is that of the picture that comes, so that nothing moves then.
  return draw ? <ChartTile {...props} draw={draw} words={words} /> : <div style={{ flex: 1 }} aria-busy />;
}

/** The areas of an address that holds their file. */
function read(address: string): Areas {
  const bytes = Uint8Array.from(atob(address.slice(address.indexOf(',') + 1)), (c) => c.charCodeAt(0));
  return JSON.parse(new TextDecoder().decode(bytes)) as Areas;
}
