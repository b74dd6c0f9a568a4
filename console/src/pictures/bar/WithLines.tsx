import { LineChart } from 'echarts/charts';
import { ChartTile } from '../parts/ChartTile';
import { use } from '../parts/echarts';

use([LineChart]);

export default ChartTile;
