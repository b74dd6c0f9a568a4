import type { TileInfo } from '../api/client';
import { area } from './area';
import { bar } from './bar';
import { box } from './box';
import { cards } from './cards';
import { crosstable } from './crosstable';
import { dates } from './dates';
import { density } from './density';
import { dropdown } from './dropdown';
import { heatmap } from './heatmap';
import { histogram } from './histogram';
import { image } from './image';
import type { PictureKind } from './kind';
import { line } from './line';
import { list } from './list';
import { map } from './map';
import { movement } from './movement';
import { number } from './number';
import { pie } from './pie';
import { places } from './places';
import { sankey } from './sankey';
import { scatter } from './scatter';
import { search } from './search';
import { slider } from './slider';
import { summary } from './summary';
import { sunburst } from './sunburst';
import { switchPicture } from './switch';
import { table } from './table';
import { text } from './text';
import { treemap } from './treemap';
import { unknown } from './unknown';
import { waterfall } from './waterfall';

/** Every kind of picture there is, by its name in definitions. */
const pictures: Record<string, PictureKind> = {
  number,
  cards,
  bar,
  line,
  area,
  waterfall,
  histogram,
  density,
  box,
  pie,
  treemap,
  sunburst,
  sankey,
  heatmap,
  scatter,
  map,
  places,
  table,
  crosstable,
  summary,
  movement,
  dropdown,
  list,
  switch: switchPicture,
  slider,
  dates,
  search,
  text,
  image,
};

/** The kind of a tile's picture; one that says so where the service is newer than the page and has kinds that it does not know. */
export const pictureOf = (tile: Pick<TileInfo, 'picture'>): PictureKind => pictures[tile.picture] ?? unknown;
