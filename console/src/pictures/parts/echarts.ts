import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components';
import { init, use } from 'echarts/core';
import { LabelLayout } from 'echarts/features';
import { SVGRenderer } from 'echarts/renderers';

// What every drawn picture needs; each kind adds its own.
use([GridComponent, LegendComponent, TooltipComponent, LabelLayout, SVGRenderer]);

export type { EChartsType } from 'echarts/core';
export { init, use };
