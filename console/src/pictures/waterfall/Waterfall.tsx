import { BarChart } from 'echarts/charts';
import type { PictureProps } from '../PictureProps';
import { ChartTile } from '../parts/ChartTile';
import { use } from '../parts/echarts';
import { draw } from './draw';

use([BarChart]);

const gestures = { draw, words: 'waterfall chart', target: 'band', stacks: 'along' } as const;

export default (props: PictureProps) => <ChartTile {...props} {...gestures} />;
