import type { TileInfo, TileResult, Value } from '../api/client';
import { allOthers, bareNumber, label } from './labels';

/** A tile in words and figures, to be put into a message: its title, what filters it, its lines with tabs between, and what has to be known. */
export function asText(tile: TileInfo, result: TileResult | undefined): string {
  const lines = [tile.title];
  if (!result?.table) return lines.join('\n');
  const filters = (result.filters?.applied ?? []).map((f) => `${f.fields}: ${f.members.join(', ')}`);
  if (filters.length > 0) lines.push(filters.join('; '));
  const { columns, values } = result.table;
  const rest = columns.findIndex((c) => c.role === 'rest');
  const shown = columns.map((column, at) => ({ column, at })).filter(({ column }) => column.role !== 'rest');
  const rows = values[0]?.length ?? 0;
  const written = (value: Value | undefined, { column }: (typeof shown)[number]) =>
    (column.role === 'figure' || column.role === 'tip' ? bareNumber(value, column) : label(value, column)).replaceAll(
      /\s/g,
      ' ',
    );
  lines.push(shown.map(({ column: c }) => (c.format?.unit ? `${c.title}, ${c.format.unit}` : c.title)).join('\t'));
  for (let r = 0; r < rows; r++)
    lines.push(
      shown
        .map((s, place) => (place === 0 && values[rest]?.[r] === true ? allOthers : written(values[s.at]?.[r], s)))
        .join('\t'),
    );
  if (Number(result.lines) > rows) lines.push(`The first ${rows} of ${Number(result.lines)} lines.`);
  if (result.note) lines.push(result.note);
  if (result.restricted) lines.push('Of the rows that the sender may see.');
  return lines.join('\n');
}
