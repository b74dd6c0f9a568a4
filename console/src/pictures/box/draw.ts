import type { EChartsCoreOption } from 'echarts/core';
import { allOthers, formatOf, isWords, label } from '../../model/labels';
import {
  figuresAxis,
  levelsOf,
  markBands,
  markLines,
  membersAxis,
  referenced,
  roomAround,
  roomOf,
} from '../parts/cartesian';
import { after, base, type Drawing, type DrawingInput, html, opacityOf, partsOf, tip, tipsOf } from '../parts/drawing';
import { scaleOf } from '../parts/scale';

/** Five figures of each member as a box with whiskers. */
export function draw(input: DrawingInput): Drawing {
  const { tile, table, tokens: t, selection } = input;
  const parts = partsOf(table);
  const by = parts.groups[0];
  const five = parts.figures.slice(0, 5);
  const [first, , , , greatest] = five;
  if (!by || !first || !greatest) return { option: base(t), marks: [] };
  const tips = tipsOf(input);
  const boxes = Array.from({ length: parts.rows }, (_, row) => {
    const isRest = parts.isRest(row);
    const member = parts.group(0)[row] ?? null;
    return {
      member,
      isRest,
      name: isRest ? allOthers : label(member, by),
      figures: five.map((f) => f.values[row] ?? null),
    };
  });
  const lying = isWords(by);
  const { unit } = formatOf(first.column);
  const known = boxes.flatMap((b) => b.figures);
  const steps = lying ? 4 : Math.max(2, Math.floor(input.height / (60 * t.scale)));
  const category = membersAxis(
    input,
    boxes.map((b) => b.name),
    lying,
  );
  const ends = input.scale
    ? { min: input.scale[0], max: input.scale[1] }
    : scaleOf([...known, ...referenced(tile)], steps);
  const value = figuresAxis(ends, steps, first.column, t, lying);
  const levels = levelsOf(tile, t, lying, ends, input);
  const option: EChartsCoreOption = {
    ...base(t),
    grid: roomAround(unit, t, lying, lying ? roomOf(levels, t) : 0),
    xAxis: lying ? value : category,
    yAxis: lying ? category : value,
    series: [
      {
        type: 'boxplot',
        layout: lying ? 'vertical' : 'horizontal',
        selectedMode: false,
        boxWidth: [6 * t.scale, 34 * t.scale],
        markLine: markLines(tile, t, lying, levels),
        markArea: markBands(tile, t, lying),
        emphasis: { itemStyle: { borderWidth: 2 * t.scale } },
        data: boxes.map((b) => ({
          value: b.figures.map((f) => f ?? '-'),
          itemStyle: {
            color: t.tint,
            borderColor: b.isRest ? t.rest : t.accent,
            borderWidth: 1.5 * t.scale,
            opacity: tile.pick === 'none' ? 1 : opacityOf(selection, [b.member], b.isRest),
          },
        })),
      },
    ],
  };
  option.tooltip = {
    ...(option.tooltip as object),
    formatter: (p: { dataIndex: number }) => {
      const found = boxes[p.dataIndex];
      return found
        ? `<div>${html(found.name)}</div>${five
            .slice(tips.isSentence ? 5 : 0, 4)
            .map((f, i) => tip(t.accent, f.column.title, found.figures[i] ?? null, f.column))
            .join(
              '',
            )}${tips.of(p.dataIndex, t.accent, greatest.column.title, found.figures[4] ?? null, greatest.column)}`
        : '';
    },
  };
  return {
    option,
    lying,
    marks: boxes.map((b, i) => ({
      member: [b.member],
      isRest: b.isRest,
      text: `${b.name}: ${five
        .map((f, at) => `${f.column.title} ${label(b.figures[at] ?? null, f.column)}`)
        .join(', ')}${after(tips.words(i))}`,
      series: 0,
      data: i,
    })),
  };
}
