import type { EChartsCoreOption } from 'echarts/core';
import type { ColumnInfo, Value } from '../../api/client';
import { allOthers, formatOf, label } from '../../model/labels';
import { figureLabels } from '../parts/cartesian';
import { colourOf } from '../parts/colours';
import {
  after,
  base,
  besidePoint,
  type Drawing,
  type DrawingInput,
  html,
  opacityOf,
  partsOf,
  tip,
  tipsOf,
} from '../parts/drawing';
import { patternOf } from '../parts/patterns';

/** A point for each member, placed by two figures. */
export function draw(input: DrawingInput): Drawing {
  const { table, tokens: t, selection } = input;
  const parts = partsOf(table);
  const [by, split] = parts.groups;
  const [across, up, size] = parts.figures;
  if (!by || !across || !up) return { option: base(t), marks: [] };
  const tips = tipsOf(input);
  const most = Math.max(1, ...(size?.values ?? []).map((v) => Math.abs(v ?? 0)));
  const all = Array.from({ length: parts.rows }, (_, row) => ({
    row,
    member: parts.group(0)[row] ?? null,
    part: split ? (parts.group(1)[row] ?? null) : undefined,
    isRest: parts.isRest(row),
    x: across.values[row] ?? null,
    y: up.values[row] ?? null,
    radius: size ? 5 + 19 * Math.sqrt(Math.abs(size.values[row] ?? 0) / most) : 9,
  })).filter((p): p is typeof p & { x: number; y: number } => p.x !== null && p.y !== null);
  const every = split ? [...new Map(all.map((p) => [JSON.stringify(p.part), p.part as Value])).values()] : [];
  const points = split ? all.filter((p) => !input.hidden?.has(label(p.part ?? null, split))) : all;
  const coloured = (part: Value) => (split ? colourOf(split, part, t) : (t.series[0] ?? t.accent));
  const step = t.size / 12;
  const axis = (column: ColumnInfo, gap: number) => ({
    type: 'value',
    scale: true,
    name: [column.title, formatOf(column).unit].filter(Boolean).join(', '),
    nameLocation: 'middle',
    nameTruncate: { maxWidth: gap > 30 * step ? input.height - 50 : input.width - 70 },
    nameGap: gap,
    nameTextStyle: { color: t.quiet, fontSize: t.size },
    axisLabel: figureLabels(formatOf(column), t),
    splitLine: { lineStyle: { color: t.hairline } },
  });
  const known = points.map((p) => p.x);
  const [least, widest] = [Math.min(...known), Math.max(...known) - Math.min(...known)];
  // With more points than this names would cover one another: they stand in the tip.
  const isNamed = points.length <= 30;
  const left = 54 * step;
  const at = (x: number) => left + (widest === 0 ? 0.5 : (x - least) / widest) * (input.width - left - 16);
  const name = (p: (typeof points)[number]) => (p.isRest ? allOthers : label(p.member, by));
  const whole = (p: (typeof points)[number]) => (split ? `${name(p)}, ${label(p.part, split)}` : name(p));
  const option: EChartsCoreOption = {
    ...base(t, false),
    grid: { left, right: 16, top: 24 * step, bottom: 40 * step },
    xAxis: axis(across.column, 26 * step),
    yAxis: axis(up.column, 42 * step),
    series: [
      {
        type: 'scatter',
        color: t.series[0],
        selectedMode: false,
        label: {
          show: isNamed,
          position: 'top',
          distance: 3,
          color: t.ink,
          fontSize: t.size - 1,
          // Read over the points of others, and never one name over another.
          textBorderColor: t.surface,
          textBorderWidth: 2,
          minMargin: 12,
          formatter: (p: { dataIndex: number }) =>
            points[p.dataIndex] ? name(points[p.dataIndex] as (typeof points)[number]) : '',
        },
        labelLayout: { hideOverlap: true },
        data: points.map((p) => ({
          value: [p.x, p.y],
          symbolSize: p.radius,
          symbol: t.patterns ? patternOf(t, split ? every.findIndex((e) => e === p.part) : 0)?.symbol : undefined,
          // At the edges a name stands beside its point: there it would be cut.
          ...(isNamed ? { label: besidePoint(name(p), at(p.x) - left, input.width - left - 8, t) } : {}),
          itemStyle: {
            ...(split ? { color: coloured(p.part ?? null) } : {}),
            opacity: opacityOf(selection, [p.member], p.isRest) * 0.9,
          },
        })),
      },
    ],
  };
  option.tooltip = {
    ...(option.tooltip as object),
    formatter: (over: { dataIndex: number; color: string }) => {
      const p = points[over.dataIndex];
      if (!p) return '';
      const figures = [across, up, ...(size ? [size] : [])];
      const last = figures[figures.length - 1] as (typeof figures)[number];
      const whose = `<div>${html(whole(p))}</div>`;
      if (tips.isSentence) return tips.of(p.row, over.color, '', null, last.column);
      return `${whose}${figures
        .slice(0, -1)
        .map((f) => tip(over.color, f.column.title, f.values[p.row], f.column))
        .join('')}${tips.of(p.row, over.color, last.column.title, last.values[p.row], last.column)}`;
    },
  };
  return {
    option,
    legend: split
      ? every.map((part, at) => ({
          name: label(part, split),
          colour: coloured(part),
          mark: 'point',
          pattern: patternOf(t, at),
        }))
      : undefined,
    points: points.map((p) => [p.x, p.y]),
    marks: points.map((p, i) => ({
      member: [p.member],
      isRest: p.isRest,
      text: `${whole(p)}: ${label(p.x, across.column)}, ${label(p.y, up.column)}${after(tips.words(p.row))}`,
      series: 0,
      data: i,
    })),
  };
}
