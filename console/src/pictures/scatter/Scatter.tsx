import { CustomChart, ScatterChart } from 'echarts/charts';
import type { PictureProps } from '../PictureProps';
import { ChartTile } from '../parts/ChartTile';
import { use } from '../parts/echarts';
import { draw } from './draw';

use([ScatterChart, CustomChart]);

const gestures = { draw, words: 'scatter chart', boxes: true } as const;

export default (props: PictureProps) => <ChartTile {...props} {...gestures} />;
