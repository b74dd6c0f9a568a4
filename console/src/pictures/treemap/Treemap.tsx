import { TreemapChart } from 'echarts/charts';
import { LabelLayout } from 'echarts/features';
import type { PictureProps } from '../PictureProps';
import { ChartTile } from '../parts/ChartTile';
import { use } from '../parts/echarts';
import { draw } from './draw';

use([TreemapChart, LabelLayout]);

const gestures = { draw, words: 'treemap' } as const;

export default (props: PictureProps) => <ChartTile {...props} {...gestures} />;
