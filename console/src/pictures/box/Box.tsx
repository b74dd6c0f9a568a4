import { BoxplotChart, ScatterChart } from 'echarts/charts';
import type { PictureProps } from '../PictureProps';
import { ChartTile } from '../parts/ChartTile';
import { use } from '../parts/echarts';
import { draw } from './draw';

use([BoxplotChart, ScatterChart]);

const gestures = { draw, words: 'box plot', target: 'band' } as const;

export default (props: PictureProps) => <ChartTile {...props} {...gestures} />;
