import { cartesian } from '../parts/cartesian';
import { type Draw, namedBelow, partsOf } from '../parts/drawing';

/** Lines along an axis; those that begin together say along what, since no date tells. */
export const draw: Draw = (input) => {
  const drawing = cartesian(input, { mark: 'line' });
  const title = partsOf(input.table).groups[0]?.title;
  if (input.tile.options?.since_start === undefined || !title) return drawing;
  const { option } = drawing;
  return {
    ...drawing,
    option: {
      ...option,
      grid: { ...(option.grid as object), bottom: input.tokens.size + 6 },
      xAxis: { ...(option.xAxis as object), ...namedBelow(title, input) },
    },
  };
};
