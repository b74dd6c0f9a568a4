import type { EChartsCoreOption } from 'echarts/core';
import { allOthers, formatOf, label, shortNumber } from '../../model/labels';
import { colourOf, onColour } from '../parts/colours';
import { after, base, type Drawing, type DrawingInput, opacityOf, partsOf, tipsOf } from '../parts/drawing';
import { leftOutOf } from '../parts/tree';
import { letter } from '../parts/wrap';

/** Slices of a whole. */
export function draw(input: DrawingInput): Drawing {
  const { table, tokens: t, selection, width } = input;
  const parts = partsOf(table);
  const by = parts.groups[0];
  const figure = parts.figures[0];
  if (!by || !figure) return { option: base(t), marks: [] };
  const tips = tipsOf(input);
  const every = Array.from({ length: parts.rows }, (_, row) => {
    const member = parts.group(0)[row] ?? null;
    const isRest = parts.isRest(row);
    return {
      row,
      member,
      isRest,
      value: figure.values[row] ?? null,
      name: isRest ? allOthers : label(member, by),
      colour: isRest ? t.rest : colourOf(by, member, t),
    };
  });
  // What is below nothing is no part of a whole.
  const whole = every.filter((s) => s.value === null || s.value >= 0);
  // Small enough that the labels beside it have room; where there is none, the names stand above and the shares inside.
  const isNarrow = width < 260 || labelsBeside(whole.map((s) => s.value ?? 0)) * 2 * (t.size + 4) > input.height;
  const slices = isNarrow ? whole.filter((s) => !input.hidden?.has(s.name)) : whole;
  const total = slices.reduce((sum, s) => sum + (s.value ?? 0), 0);
  const isRing = input.tile.options?.ring === 'true';
  const steep = steepness(slices.map((s) => s.value ?? 0));
  // What stands right above or below it takes two lines of the height.
  const isSteep = steep.some((s) => s > 0.98);
  const radius = isNarrow
    ? Math.min(input.height * 0.46, width * 0.4)
    : Math.max(
        28,
        Math.min(
          input.height * 0.37,
          width / 2 - Math.max(100, 6.6 * t.size),
          isSteep ? input.height / 2 - 3 * (t.size + 4) : Number.POSITIVE_INFINITY,
        ),
      );
  const { unit } = formatOf(figure.column);
  // A ring is as broad as the shares that stand in it, as long as it stays one.
  const broad = isNarrow ? 4 * letter * t.size + 8 : 0;
  const hole = isRing ? Math.max(radius * 0.45, Math.min(radius * 0.58, radius - broad)) : 0;
  const inAll = shortNumber(total, { ...formatOf(figure.column), unit: '' });
  const size = Math.min(t.size * 1.6, hole * 0.62, (hole * 1.5) / (inAll.length * letter));
  const share = (v: number | null, decimals = 1) =>
    total > 0 && v !== null ? `${((100 * v) / total).toFixed(decimals)} %` : '–';
  const option: EChartsCoreOption = {
    ...base(t),
    // Smaller than that nobody reads it; the share of each part tells of it, too.
    title:
      isRing && size >= leastSize
        ? {
            text: inAll,
            subtext: unit || undefined,
            left: 'center',
            top: Math.round(input.height * 0.5 - (size + (unit ? t.size : 0)) / 2 - 8),
            itemGap: 4,
            textStyle: { color: t.ink, fontSize: size, fontWeight: 600 },
            subtextStyle: { color: t.quiet, fontSize: t.size },
          }
        : undefined,
    series: [
      {
        type: 'pie',
        radius: [hole, radius],
        center: ['50%', '50%'],
        selectedMode: false,
        startAngle: 90,
        minShowLabelAngle: isNarrow ? 40 : leastAngle,
        emphasis: { scale: false },
        label: {
          show: !isNarrow || radius - hole >= broad,
          position: isNarrow ? 'inside' : 'outside',
          color: t.ink,
          fontSize: isNarrow ? t.size - 1 : t.size,
          lineHeight: t.size + 4,
          width: Math.max(40, width / 2 - radius - 20),
          overflow: 'truncate',
          formatter: (p: { dataIndex: number }) =>
            isNarrow
              ? share(slices[p.dataIndex]?.value ?? null, 0)
              : `${slices[p.dataIndex]?.name}\n${share(slices[p.dataIndex]?.value ?? null)}`,
        },
        labelLine: { length: 6, length2: 6, lineStyle: { color: t.hairline } },
        data: slices.map((s, i) => ({
          name: s.name,
          value: s.value,
          ...(isNarrow ? { label: { color: onColour(s.colour, t) } } : {}),
          labelLine: { length: 6 + t.size * (steep[i] ?? 0) ** 4 },
          itemStyle: {
            color: s.colour,
            opacity: opacityOf(selection, [s.member], s.isRest),
            borderColor: t.surface,
            borderWidth: 1,
          },
        })),
      },
    ],
  };
  option.tooltip = {
    ...(option.tooltip as object),
    formatter: (p: { dataIndex: number }) => {
      const s = slices[p.dataIndex];
      return s
        ? `${tips.of(s.row, s.colour, s.name, s.value, figure.column)}<div>${share(s.value)} of those shown</div>`
        : '';
    },
  };
  return {
    option,
    note: leftOutOf({ leftOut: every.length - whole.length }),
    legend: isNarrow ? whole.map(({ name, colour }) => ({ name, colour })) : undefined,
    marks: slices.map((s, i) => ({
      member: [s.member],
      isRest: s.isRest,
      text: `${s.name}: ${label(s.value, figure.column)}, ${share(s.value)} of those shown${after(tips.words(s.row))}`,
      series: 0,
      data: i,
    })),
  };
}

/** The smallest type in which the figure of all is written, in pixels. */
const leastSize = 9;

/** The least angle of a part with a label beside it, in degrees. */
const leastAngle = 12;

/** Where the middle of each part is, going round from the top, from 0 to 1. */
function middles(values: readonly number[]): number[] {
  const total = values.reduce((sum, v) => sum + v, 0);
  let before = 0;
  return values.map((v) => {
    const middle = total > 0 ? (before + v / 2) / total : 0;
    before += v;
    return middle;
  });
}

/** How many labels stand at the side that has more of them. */
function labelsBeside(values: readonly number[]): number {
  const total = values.reduce((sum, v) => sum + v, 0);
  const labelled = middles(values).filter((_, i) => (360 * (values[i] ?? 0)) / total >= leastAngle);
  const right = labelled.filter((m) => m < 0.5).length;
  return Math.max(right, labelled.length - right);
}

/** How near to right above or right below the middle of each part is, from 0 to 1. */
const steepness = (values: readonly number[]): number[] =>
  middles(values).map((m) => Math.abs(Math.cos(2 * Math.PI * m)));
