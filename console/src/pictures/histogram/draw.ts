import type { EChartsCoreOption } from 'echarts/core';
import type { Value } from '../../api/client';
import { formatOf, label } from '../../model/labels';
import { barsOf, endsOf, figureLabels } from '../parts/cartesian';
import { type Along, base, type Draw, html, opacityOf, partsOf, tip } from '../parts/drawing';
import { scaleOf } from '../parts/scale';

/** Bars over ranges of a number, without gaps between them. */
export const draw: Draw = ({ table, tokens: t, tile, selection, width, height, scale }) => {
  const parts = partsOf(table);
  const by = parts.groups[0];
  const figure = parts.figures[0];
  const edges = by?.edges ?? [];
  if (!by || !figure || edges.length < 2) return { option: base(t), marks: [] };
  const starts = parts.group(0);
  const names = starts.map((v) => label(v, by));
  const unitless = { ...by, edges: undefined, format: by.format && { ...by.format, unit: '' } };
  const format = formatOf(figure.column);
  const steps = Math.max(2, Math.floor(height / 60));
  const option: EChartsCoreOption = {
    ...base(t),
    grid: {
      left: 4,
      right: 28,
      top: 24,
      bottom: t.size + 6,
      containLabel: true,
      outerBoundsMode: 'same',
      outerBoundsContain: 'axisLabel',
    },
    xAxis: {
      type: 'category',
      data: starts.map((v) => label(v, unitless)),
      name: [by.title, formatOf(by).unit].filter(Boolean).join(', '),
      nameLocation: 'middle',
      nameGap: t.size + 10,
      nameTextStyle: { color: t.quiet, fontSize: t.size },
      nameTruncate: { maxWidth: width - 60 },
      axisLine: { lineStyle: { color: t.hairline } },
      axisTick: { show: false },
      axisLabel: {
        color: t.quiet,
        fontSize: t.size,
        hideOverlap: true,
        ...endsOf(names, width, t),
        formatter: (_: string, i: number) =>
          `${label(starts[i] as Value, unitless)}–${label(edges[i + 1] as Value, unitless)}`,
      },
    },
    yAxis: {
      type: 'value',
      ...(scale ? { min: Math.min(0, scale[0]), max: scale[1] } : scaleOf(figure.values, steps)),
      name: [figure.column.title, format.unit].filter(Boolean).join(', '),
      nameLocation: 'end',
      nameGap: 8,
      nameTextStyle: { color: t.quiet, fontSize: t.size, align: 'left' },
      nameTruncate: { maxWidth: width - 60 },
      splitNumber: steps,
      axisLabel: figureLabels(format, t),
      splitLine: { lineStyle: { color: t.hairline } },
    },
    series: [
      {
        type: 'bar',
        zlevel: 1,
        color: t.series[0],
        barCategoryGap: '4%',
        selectedMode: false,
        emphasis: { focus: 'none' },
        data: figure.values.map((v, i) => ({
          value: v,
          itemStyle: { opacity: tile.pick === 'none' ? 1 : opacityOf(selection, [starts[i] ?? null], false) },
        })),
      },
    ],
  };
  option.tooltip = {
    ...(option.tooltip as object),
    trigger: 'axis',
    axisPointer: { type: 'shadow', shadowStyle: { color: t.tint, opacity: 0.5 } },
    formatter: (points: { dataIndex: number }[]) => {
      const i = points[0]?.dataIndex ?? 0;
      return `<div style="margin-bottom:2px">${html(names[i] ?? '')}</div>${tip(t.series[0] ?? t.rest, figure.column.title, figure.values[i], figure.column)}`;
    },
  };
  const along: Along = { members: starts, at: null, edges };
  return {
    option,
    along,
    bars: barsOf(option, [figure], false, false),
    marks: starts.map((v, i) => ({
      member: [v],
      isRest: false,
      text: `${names[i]}: ${label(figure.values[i], figure.column)}`,
      series: 0,
      data: i,
    })),
  };
};
