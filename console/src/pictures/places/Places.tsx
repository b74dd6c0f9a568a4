import { ScatterChart } from 'echarts/charts';
import { GeoComponent, VisualMapComponent } from 'echarts/components';
import { LabelLayout } from 'echarts/features';
import { MapTile } from '../map/MapTile';
import type { PictureProps } from '../PictureProps';
import { use } from '../parts/echarts';
import { placesOn } from './draw';

use([ScatterChart, GeoComponent, VisualMapComponent, LabelLayout]);

/** Points on a map. */
export default (props: PictureProps) => <MapTile {...props} drawOn={placesOn} words="map of places" />;
