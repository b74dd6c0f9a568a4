import { MapChart } from 'echarts/charts';
import { VisualMapComponent } from 'echarts/components';
import { LabelLayout } from 'echarts/features';
import { useCallback } from 'react';
import type { PictureProps } from '../PictureProps';
import { use } from '../parts/echarts';
import { type Areas, drawOn } from './draw';
import { MapTile } from './MapTile';

use([MapChart, VisualMapComponent, LabelLayout]);

/** Areas of a map, coloured by a figure. */
export default function MapPicture(props: PictureProps) {
  const key = props.tile.options.area_key ?? 'name';
  const draw = useCallback((areas: Areas, name: string) => drawOn(areas, name, key), [key]);
  return <MapTile {...props} drawOn={draw} words="map" />;
}
