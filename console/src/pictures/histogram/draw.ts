import type { EChartsCoreOption } from 'echarts/core';
import type { Value } from '../../api/client';
import { formatOf, label, shortNumber } from '../../model/labels';
import { cartesian } from '../parts/cartesian';
import { endsOf, roomBeyond } from '../parts/cartesian/axes';
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
  // Ranges of long numbers are written shortened where hardly two of them would have room.
  const isNarrow = Math.max(...names.map((n) => n.length)) * 2 * t.size * 0.6 > (width - 4 * t.size) / 3;
  const end = (v: Value | undefined) =>
    isNarrow && typeof v === 'number' ? shortNumber(v, { ...formatOf(by), unit: '' }, 3) : label(v as Value, unitless);
  const ranges = members.map(
    (v, i) => `${end(v)}–${isSmall && !isNarrow ? label(edges[i + 1] as Value, withUnit) : end(edges[i + 1])}`,
  );
  const axis = drawing.option.xAxis as { axisLabel: object };
  const grid = { ...(drawing.option.grid as object), right: roomBeyond(ranges, width, t) };
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
        // As what is written here is long, and not the whole names of the ranges.
        alignMinLabel: undefined,
        alignMaxLabel: undefined,
        ...endsOf(ranges, width, t),
        formatter: (_: string, i: number) => ranges[i],
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
