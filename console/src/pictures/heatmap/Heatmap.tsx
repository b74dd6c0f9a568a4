import { HeatmapChart } from 'echarts/charts';
import { VisualMapComponent } from 'echarts/components';
import type { PictureProps } from '../PictureProps';
import { ChartTile } from '../parts/ChartTile';
import { use } from '../parts/echarts';
import { draw } from './draw';

use([HeatmapChart, VisualMapComponent]);

const gestures = { draw, words: 'heat map' } as const;

export default (props: PictureProps) => <ChartTile {...props} {...gestures} />;
