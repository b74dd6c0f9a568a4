import { allOthers, formatOf, label } from '../../model/labels';
import { seenThrough } from '../../model/lens';
import { type Areas, lensOf, planeOf } from '../map/draw';
import { figureColours, middleOf, shade } from '../parts/colours';
import { after, base, besidePoint, type Draw, html, opacityOf, partsOf, tip, tipsOf } from '../parts/drawing';
import { scaleLegend } from '../parts/scaleLegend';

/** With more points than this their names would cover one another: they stand in the tip. */
const named = 25;

/**
 * How points are drawn on a map.
 * @param name What the drawing library knows the areas by.
 */
export const placesOn =
  (areas: Areas, name: string): Draw =>
  (input) => {
    const { tile, table, tokens: t, selection } = input;
    const parts = partsOf(table);
    const [by] = parts.groups;
    const [longitude, latitude, size, shown] = parts.figures;
    if (!by || !longitude || !latitude) return { option: base(t), marks: [] };
    const tips = tipsOf(input);
    const plane = planeOf(areas);
    const [west, east] = plane.x;
    const [south, north] = plane.y;
    const seen = seenThrough(input.lens, plane).x;
    const most = Math.max(0, ...(size?.values ?? []).map((v) => Math.abs(v ?? 0)));
    const all = Array.from({ length: parts.rows }, (_, row) => ({
      row,
      member: parts.group(0)[row] ?? null,
      isRest: parts.isRest(row),
      name: parts.isRest(row) ? allOthers : label(parts.group(0)[row] ?? null, by),
      x: longitude.values[row] ?? null,
      y: latitude.values[row] ?? null,
    }));
    // The mean place of several members is none of theirs.
    const points = all
      .filter((p): p is typeof p & { x: number; y: number } => !p.isRest && p.x !== null && p.y !== null)
      .filter((p) => p.x >= west && p.x <= east && p.y >= south && p.y <= north);
    const lost = all.filter((p) => !points.some((o) => o.row === p.row)).map((p) => p.name);
    const figures = points.map((p) => shown?.values[p.row]).filter((v): v is number => typeof v === 'number');
    const colours = figureColours(figures, t, middleOf(tile));
    const colour = (row: number) => {
      const value = shown?.values[row];
      if (!shown) return t.series[0] ?? t.accent;
      return typeof value === 'number' ? colours.of(value) : t.rest;
    };
    const radius = (row: number) =>
      (size ? 7 + 19 * Math.sqrt(most === 0 ? 0 : Math.abs(size.values[row] ?? 0) / most) : 11) * t.scale;
    const right = shown && figures.length > 0 ? 88 : 8;
    const acrossAt = (x: number) => 8 + ((x - seen[0]) / (seen[1] - seen[0])) * (input.width - 8 - right);
    const note =
      lost.length > 0
        ? `Not on the map: ${lost.slice(0, 4).join(', ')}${lost.length > 4 ? ` and ${lost.length - 4} more` : ''}.`
        : undefined;
    return {
      option: {
        ...base(t, false),
        ...(shown && figures.length > 0
          ? { visualMap: { ...scaleLegend(colours, formatOf(shown.column), input), seriesIndex: [] } }
          : {}),
        geo: {
          map: name,
          roam: false,
          ...lensOf(input),
          silent: true,
          aspectScale: 0.9,
          left: 8,
          right,
          top: 6,
          bottom: note ? 18 * t.scale : 6,
          itemStyle: { areaColor: shade(t.rest, 0.35, t), borderColor: t.surface, borderWidth: 1 },
          label: { show: false },
        },
        series: [
          {
            type: 'scatter',
            coordinateSystem: 'geo',
            selectedMode: false,
            label: {
              show: points.length <= named,
              position: 'top',
              distance: 2,
              color: t.ink,
              fontSize: t.size - 1,
              textBorderColor: t.surface,
              textBorderWidth: 2,
              formatter: (p: { dataIndex: number }) => points[p.dataIndex]?.name ?? '',
            },
            labelLayout: { hideOverlap: true },
            data: points.map((p) => ({
              value: [p.x, p.y],
              symbolSize: radius(p.row),
              label: besidePoint(p.name, acrossAt(p.x), input.width - right + 8, t),
              itemStyle: {
                color: colour(p.row),
                borderColor: t.ink,
                borderWidth: shown ? 1 : 0,
                opacity: (tile.pick === 'none' ? 1 : opacityOf(selection, [p.member], false)) * 0.92,
              },
            })),
          },
        ],
        tooltip: {
          ...(base(t).tooltip as object),
          formatter: (at: { dataIndex: number }) => {
            const p = points[at.dataIndex];
            if (!p) return '';
            if (tips.isSentence) return tips.of(p.row, colour(p.row), '', null, longitude.column);
            const told = [size, shown].filter((f) => f !== undefined);
            const last = told.pop() ?? latitude;
            if (last === latitude) told.push(longitude);
            return `<div>${html(p.name)}</div>${told
              .map((f) => tip('transparent', f.column.title, f.values[p.row] ?? null, f.column))
              .join('')}${tips.of(p.row, colour(p.row), last.column.title, last.values[p.row] ?? null, last.column)}`;
          },
        },
      },
      marks: points.map((p, i) => ({
        member: [p.member],
        isRest: false,
        text: `${p.name}: ${[size, shown]
          .flatMap((f) => (f ? [`${f.column.title} ${label(f.values[p.row] ?? null, f.column)}`] : []))
          .concat(size ? [] : [`${label(p.x, longitude.column)}, ${label(p.y, latitude.column)}`])
          .join(', ')}${after(tips.words(p.row))}`,
        series: 0,
        data: i,
      })),
      points: points.map((p) => [p.x, p.y]),
      coordinates: 'geo',
      plane,
      note,
      summary: lost.length > 0 ? `${lost.length} not on the map` : undefined,
    };
  };
