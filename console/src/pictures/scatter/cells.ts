import type { ColumnInfo } from '../../api/client';
import { figureColours } from '../parts/colours';
import { base, type Drawing, type DrawingInput, partsOf, tip } from '../parts/drawing';
import { axesOf, axisOf, type Ends } from './axes';

/** Points that are too many to draw: cells, the darker the more points they have. */
export function cells(input: DrawingInput): Drawing {
  const { table, tokens: t } = input;
  const [across, up, points] = partsOf(table).figures;
  const sizes = table.columns.flatMap((c, i) => (c.role === 'tip' ? [table.values[i]?.[0]] : []));
  if (!across || !up || !points || points.values.length === 0) return { option: base(t), marks: [] };
  const colours = figureColours(
    points.values.map((v) => Math.log(v ?? 1)),
    t,
    undefined,
  );
  const [width, height] = sizes.map(Number) as [number, number];
  const edges = (values: (number | null)[], cell: number): [number, number] => [
    Math.min(...values.map((v) => v ?? 0)) - cell / 2,
    Math.max(...values.map((v) => v ?? 0)) + cell / 2,
  ];
  const axes = axesOf(edges(across.values, width), edges(up.values, height), input);
  const axis = (column: ColumnInfo, ends: Ends) => ({ ...axisOf(column, ends, t), splitLine: { show: false } });
  const step = t.size / 12;
  return {
    option: {
      ...base(t, false),
      grid: { left: 54 * step, right: 16, top: 24 * step, bottom: 58 * step },
      xAxis: { ...axis(across.column, axes.x), nameGap: 26 * step },
      yAxis: { ...axis(up.column, axes.y), nameGap: 42 * step },
      series: [
        {
          type: 'custom',
          clip: true,
          // The scale is that of the logarithm: few cells have most of the points.
          renderItem: (_: unknown, api: CustomApi) => {
            const [x, y] = [api.value(0) as number, api.value(1) as number];
            const [left, top] = api.coord([x - width / 2, y + height / 2]) as [number, number];
            const [right, bottom] = api.coord([x + width / 2, y - height / 2]) as [number, number];
            return {
              type: 'rect',
              shape: { x: left, y: top, width: right - left + 0.5, height: bottom - top + 0.5 },
              style: { fill: colours.of(Math.log(Math.max(1, api.value(2) as number))) },
            };
          },
          data: across.values.map((x, i) => [x, up.values[i] ?? null, points.values[i] ?? null]),
        },
      ],
      tooltip: {
        ...(base(t).tooltip as object),
        formatter: ({ data: [x, y, n] }: { data: [number, number, number] }) =>
          tip(t.accent, across.column.title, x, across.column) +
          tip('transparent', up.column.title, y, up.column) +
          tip('transparent', points.column.title, n, points.column),
      },
    },
    marks: [],
    plane: axes.plane,
  };
}

/** What the drawing library gives to whoever draws an item of its own. */
interface CustomApi {
  value: (dimension: number) => unknown;
  coord: (point: [number, number]) => number[];
}
