import { AriaComponent } from 'echarts/components';
import { use } from './echarts';

use([AriaComponent]);
