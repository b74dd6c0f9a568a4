import type { EChartsCoreOption } from 'echarts/core';
import type { Value } from '../../api/client';
import { formatOf, label } from '../../model/labels';
import { cartesian, endsOf } from '../parts/cartesian';
import { base, type Draw, namedBelow, partsOf } from '../parts/drawing';

/** Bars over ranges of a number, without gaps between them; of several members stacked, side by side or laid over one another. */
export const draw: Draw = (input) => {
  const { table, tokens: t, width, isSmall } = input;
  const by = partsOf(table).groups[0];
  const edges = by?.edges ?? [];
  if (!by || edges.length < 2) return { option: base(t), marks: [] };
  const drawing = cartesian({ ...input, window: undefined }, { mark: 'bar', stacks: true });
  const members = drawing.along?.members ?? [];
  const unitless = { ...by, edges: undefined, format: by.format && { ...by.format, unit: '' } };
  const withUnit = { ...by, edges: undefined };
  const names = members.map((v) => label(v, unitless));
  const axis = drawing.option.xAxis as { axisLabel: object };
  const grid = drawing.option.grid as object;
  const option: EChartsCoreOption = {
    ...drawing.option,
    grid: isSmall ? grid : { ...grid, bottom: t.size + 6 },
    xAxis: {
      ...axis,
      data: names,
      // What is counted along the axis stands once, beside the many.
      ...(isSmall ? {} : namedBelow([by.title, formatOf(by).unit].filter(Boolean).join(', '), input)),
      axisLabel: {
        ...axis.axisLabel,
        hideOverlap: true,
        ...endsOf(
          members.map((v) => label(v, by)),
          width,
          t,
        ),
        formatter: (_: string, i: number) =>
          `${label(members[i] as Value, unitless)}–${label(edges[i + 1] as Value, isSmall ? withUnit : unitless)}`,
      },
    },
    series: (drawing.option.series as object[]).map((s) => ({
      ...s,
      barMaxWidth: undefined,
      // Side by side, what belongs to one range has to be told from the next.
      barCategoryGap: (drawing.legend?.length ?? 0) > 1 ? '12%' : '4%',
    })),
  };
  return {
    ...drawing,
    option,
    overview: undefined,
    along: { members, at: null, edges },
    bars: drawing.bars && {
      ...drawing.bars,
      still: JSON.stringify(option, (key, part) => (key === 'value' ? undefined : part)),
    },
  };
};
