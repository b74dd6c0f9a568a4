import { formatOf, label } from '../../model/labels';
import type { Plane } from '../../model/lens';
import { figureColours, legible, middleOf, onColour, shade } from '../parts/colours';
import { after, base, type Draw, type DrawingInput, faint, html, opacityOf, partsOf, tipsOf } from '../parts/drawing';
import { scaleLegend } from '../parts/scaleLegend';

/** Areas as GeoJSON has them, as far as is looked at here. */
export interface Areas {
  features: { properties: Record<string, unknown> | null; geometry?: { coordinates?: unknown } | null }[];
}

/** The whole of a map, in degrees. */
export function planeOf(areas: Areas): Plane {
  const plane: Plane = { x: [180, -180], y: [90, -90] };
  const add = (at: unknown): void => {
    if (!Array.isArray(at)) return;
    const [x, y] = at as unknown[];
    if (typeof x !== 'number' || typeof y !== 'number') {
      for (const inner of at) add(inner);
      return;
    }
    plane.x = [Math.min(plane.x[0], x), Math.max(plane.x[1], x)];
    plane.y = [Math.min(plane.y[0], y), Math.max(plane.y[1], y)];
  };
  for (const { geometry } of areas.features) add(geometry?.coordinates);
  return plane;
}

/** How the drawing library shows a part of a map. */
export const lensOf = ({ lens }: DrawingInput) => ({
  clip: true,
  ...(lens ? { center: [lens.x, lens.y], zoom: lens.times } : { zoom: 1 }),
});

/** With more areas than this their names would cover one another: they stand in the tip. */
const named = 14;

/**
 * How figures are drawn on a map.
 * @param name What the drawing library knows the areas by.
 * @param key The property that holds the values of the field.
 */
export const drawOn =
  (areas: Areas, name: string, key: string): Draw =>
  (input) => {
    const { tile, table, tokens: t, selection } = input;
    const parts = partsOf(table);
    const tips = tipsOf(input);
    const [by] = parts.groups;
    const [figure] = parts.figures;
    if (!by || !figure) return { option: base(t), marks: [] };
    const known = new Set(areas.features.map((f) => String(f.properties?.[key] ?? '')));
    const members = parts.group(0).map((member, row) => ({ member, row, area: member === null ? '' : String(member) }));
    const placed = members.filter((m) => !parts.isRest(m.row) && m.area !== '' && known.has(m.area));
    const lost = members.filter((m) => !placed.includes(m));
    const figures = placed.map((m) => figure.values[m.row]).filter((v): v is number => typeof v === 'number');
    const colours = figureColours(input.scale ?? figures, t, middleOf(tile));
    const colour = (value: number) => legible(colours.of(value), t);
    const none = shade(t.rest, 0.6, t);
    const data = placed.map(({ member, row, area }) => {
      const value = figure.values[row] ?? null;
      const opacity = tile.pick === 'none' ? 1 : opacityOf(selection, [member], false);
      const fill = value === null ? none : colour(value);
      return {
        name: area,
        value,
        itemStyle: {
          areaColor: fill,
          opacity,
          borderColor: opacity === faint ? t.hairline : t.surface,
          borderWidth: 1.25,
        },
        label: {
          show: placed.length / (input.lens?.times ?? 1) ** 2 <= named,
          formatter: label(member, by),
          color: opacity === faint ? t.ink : onColour(fill, t),
          // Also where it comes to lie over another area.
          textBorderColor: opacity === faint ? t.surface : fill,
          textBorderWidth: 3,
          fontSize: t.size,
        },
      };
    });
    const told = lost.map((m) => (parts.isRest(m.row) ? 'all others' : label(m.member, by)));
    const notes = [
      told.length > 0 &&
        `Without an area: ${told.slice(0, 4).join(', ')}${told.length > 4 ? ` and ${told.length - 4} more` : ''}.`,
    ].filter(Boolean);
    return {
      option: {
        ...base(t, false),
        ...(figures.length > 0 ? { visualMap: scaleLegend(colours, formatOf(figure.column), input) } : {}),
        series: [
          {
            type: 'map',
            map: name,
            nameProperty: key,
            selectedMode: false,
            roam: false,
            ...lensOf(input),
            // A degree of longitude is as wide as one of latitude is high at the equator; further off the library narrows it.
            aspectScale: 0.9,
            left: 8,
            right: 88,
            top: 6,
            bottom: notes.length > 0 ? 18 * t.scale : 6,
            itemStyle: { areaColor: none, borderColor: t.surface, borderWidth: 1 },
            label: { show: false },
            labelLayout: { hideOverlap: true },
            emphasis: {
              label: { show: placed.length / (input.lens?.times ?? 1) ** 2 <= named, color: t.ink },
              itemStyle: { areaColor: t.tint, borderColor: t.ink },
            },
            data,
          },
        ],
        tooltip: {
          ...(base(t).tooltip as object),
          formatter: (p: { name: string; dataIndex: number }) => {
            const at = placed[p.dataIndex];
            return at
              ? tips.of(
                  at.row,
                  String(data[p.dataIndex]?.itemStyle.areaColor),
                  label(at.member, by),
                  figure.values[at.row] ?? null,
                  figure.column,
                )
              : html(`${p.name}: no figure`);
          },
        },
      },
      marks: placed.map(({ member, row }, i) => ({
        member: [member],
        isRest: false,
        text: `${label(member, by)}: ${label(figure.values[row] ?? null, figure.column)}${after(tips.words(row))}`,
        series: 0,
        data: i,
      })),
      plane: planeOf(areas),
      coordinates: { seriesIndex: 0 },
      note: notes.join(' ') || undefined,
      summary: told.length > 0 ? `${told.length} without an area` : undefined,
    };
  };
