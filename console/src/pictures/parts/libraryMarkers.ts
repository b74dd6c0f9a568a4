import { MarkAreaComponent, MarkLineComponent } from 'echarts/components';
import { use } from './echarts';

use([MarkLineComponent, MarkAreaComponent]);
