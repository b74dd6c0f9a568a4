import { SunburstChart } from 'echarts/charts';
import type { PictureProps } from '../PictureProps';
import { ChartTile } from '../parts/ChartTile';
import { use } from '../parts/echarts';
import { draw } from './draw';

use([SunburstChart]);

const gestures = { draw, words: 'sunburst' } as const;

export default (props: PictureProps) => <ChartTile {...props} {...gestures} />;
