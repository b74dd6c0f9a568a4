import { TooltipComponent } from 'echarts/components';
import { use } from './echarts';

use([TooltipComponent]);
