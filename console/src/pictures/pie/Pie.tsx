import { PieChart } from 'echarts/charts';
import { TitleComponent } from 'echarts/components';
import type { PictureProps } from '../PictureProps';
import { ChartTile } from '../parts/ChartTile';
import { use } from '../parts/echarts';
import { draw } from './draw';

use([PieChart, TitleComponent]);

const gestures = { draw, words: 'pie chart' } as const;

export default (props: PictureProps) => <ChartTile {...props} {...gestures} />;
