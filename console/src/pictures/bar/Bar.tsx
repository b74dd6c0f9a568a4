import { BarChart } from 'echarts/charts';
import { lazy, Suspense } from 'react';
import type { PictureProps } from '../PictureProps';
import { ChartTile } from '../parts/ChartTile';
import { use } from '../parts/echarts';
import { draw } from './draw';

use([BarChart]);

const gestures = { draw, words: 'bar chart', target: 'band', stacks: true } as const;

// What draws lines comes only where there are some among the bars.
const WithLines = lazy(() => import('./WithLines'));

const hasLines = ({ tile }: PictureProps) =>
  Object.entries(tile.options).some(([key, word]) => key.startsWith('marks.') && word === 'line');

export default (props: PictureProps) =>
  hasLines(props) ? (
    <Suspense>
      <WithLines {...props} {...gestures} />
    </Suspense>
  ) : (
    <ChartTile {...props} {...gestures} />
  );
