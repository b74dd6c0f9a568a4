import { BarChart } from 'echarts/charts';
import { apart } from '../apart';
import type { PictureProps } from '../PictureProps';
import { ChartTile } from '../parts/ChartTile';
import { use } from '../parts/echarts';
import { draw } from './draw';

use([BarChart]);

const gestures = { draw, words: 'bar chart', target: 'band', stacks: true } as const;

// What draws lines comes only where there are some among the bars.
const { Part: WithLines } = apart(() => import('./WithLines'));

const hasLines = ({ tile }: PictureProps) =>
  Object.entries(tile.options).some(([key, word]) => key.startsWith('marks.') && word === 'line');

export default (props: PictureProps) =>
  hasLines(props) ? <WithLines {...props} {...gestures} /> : <ChartTile {...props} {...gestures} />;
