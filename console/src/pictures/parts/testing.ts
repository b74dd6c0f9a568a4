import type { TileInfo } from '../../api/client';
import { light } from '../../look/tokens';
import type { Draw, DrawingInput } from './drawing';

/** A column of a result. */
export const column = (name: string, role: string, kind: string, at: string | null = null) => ({
  name,
  title: name,
  role,
  kind,
  format: null,
  at,
});
/** What a kind is given to draw. */
export const input = (
  picture: string,
  columns: DrawingInput['table']['columns'],
  values: DrawingInput['table']['values'],
  more: Partial<DrawingInput> = {},
): DrawingInput => ({
  tile: { picture, pick: 'many', show: [{ additive: true }] } as unknown as TileInfo,
  table: { columns, values },
  partial: [],
  weekStarts: 'monday',
  tokens: light,
  width: 400,
  height: 300,
  ...more,
});

/** What tests look at in a drawing. */
export interface Drawn {
  series: { data: { value: number | null; itemStyle: { opacity: number; color: string } }[] }[];
  xAxis: { data: string[] };
  yAxis: { data: string[] };
}

/** A drawing as tests look at it. */
export const drawn = (draw: Draw, i: DrawingInput) => draw(i).option as unknown as Drawn;
