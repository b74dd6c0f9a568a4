import { CustomChart, ScatterChart } from 'echarts/charts';
import { LabelLayout } from 'echarts/features';
import type { PictureProps } from '../PictureProps';
import { ChartTile } from '../parts/ChartTile';
import { use } from '../parts/echarts';
import { draw } from './draw';

use([ScatterChart, CustomChart, LabelLayout]);

const gestures = { draw, words: 'scatter chart', boxes: true, lowest: 12 } as const;

export default (props: PictureProps) => <ChartTile {...props} {...gestures} />;
