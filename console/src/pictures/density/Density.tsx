import { LineChart } from 'echarts/charts';
import type { PictureProps } from '../PictureProps';
import { ChartTile } from '../parts/ChartTile';
import { use } from '../parts/echarts';
import { draw } from './draw';

use([LineChart]);

const gestures = { draw, words: 'curves of values', target: 'nearest' } as const;

export default (props: PictureProps) => <ChartTile {...props} {...gestures} />;
