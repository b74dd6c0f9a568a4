import { PieChart } from 'echarts/charts';
import type { PictureProps } from '../PictureProps';
import { ChartTile } from '../parts/ChartTile';
import { use } from '../parts/echarts';
import { draw } from './draw';

use([PieChart]);

const gestures = { draw, words: 'pie chart' } as const;

export default (props: PictureProps) => <ChartTile {...props} {...gestures} />;
