// The parts of ECharts that tiles draw with; imported when the first chart is shown.
import { BarChart, LineChart, ScatterChart } from 'echarts/charts';
import { GridComponent, TitleComponent, TooltipComponent } from 'echarts/components';
import { init, use } from 'echarts/core';
import { LabelLayout } from 'echarts/features';
import { CanvasRenderer, SVGRenderer } from 'echarts/renderers';

use([
  BarChart,
  LineChart,
  ScatterChart,
  GridComponent,
  TitleComponent,
  TooltipComponent,
  LabelLayout,
  CanvasRenderer,
  SVGRenderer,
]);

export { init };
export type { EChartsOption } from 'echarts';
