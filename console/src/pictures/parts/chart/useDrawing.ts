import { useEffect, useMemo, useRef, useState } from 'react';
import type { TileInfo } from '../../../api/client';
import type { Tokens } from '../../../look/tokens';
import type { Lens } from '../../../model/lens';
import { inPlacesOf } from '../../../model/order';
import type { AxisWindow } from '../../../model/window';
import type { PictureProps } from '../../PictureProps';
import type { Drawing, Drawn } from '../drawing';

/** How a picture is seen: how large, in which look, and which part of it. */
export interface Seen {
  tokens: Tokens;
  width: number;
  height: number;
  /** The names of series that are not drawn. */
  hidden: ReadonlySet<string>;
  window?: AxisWindow;
  lens?: Lens;
}

/**
 * A picture as it is to be drawn.
 * @returns With its tile, whose lines at measures are where the answer has them; and whether a hand moves elsewhere on the page.
 */
export function useDrawing(props: PictureProps & Drawn, { tokens, width, height, hidden, window, lens }: Seen) {
  const { tile: defined, result, weekStarts, scale, ends, draw } = props;
  const isSmall = props.panel !== undefined;
  const partial = useMemo(() => result.partial ?? [], [result.partial]);
  // A drawn span lies over the picture, which stays as it is while the hand moves.
  const selection = defined.pick === 'range' ? undefined : props.selection;
  // What changed with each frame could not be followed: while a hand moves, members keep their places and the axis never gets
  // shorter; both are as the figures have it when the hand rests.
  const isMoving = useSettled(result.table) !== result.table && props.isPassing === true;
  const last = useRef({ table: result.table, reach: undefined as readonly number[] | undefined });
  const table = useMemo(
    () => (isMoving ? inPlacesOf(result.table, last.current.table) : result.table),
    [result.table, isMoving],
  );
  const reach = isMoving ? last.current.reach : undefined;
  const tile = useMemo(() => withReferences(defined, result.references), [defined, result.references]);
  const { partialPairs, outliers } = result;
  const input = useMemo(
    () => ({
      tile,
      table,
      partial,
      partialPairs,
      outliers,
      weekStarts,
      selection,
      hidden,
      window,
      lens,
      isSmall,
      scale,
    }),
    [tile, table, partial, partialPairs, outliers, weekStarts, selection, hidden, window, lens, isSmall, scale],
  );
  const drawing = useMemo(
    () =>
      width > 0 && height > 0 ? toolsOf(input.tile, draw({ ...input, tokens, width, height, ends, reach })) : undrawn,
    [input, draw, tokens, width, height, ends, reach],
  );
  last.current = { table, reach: `${last.current.reach}` === `${drawing.reach}` ? last.current.reach : drawing.reach };
  return { tile, drawing, isMoving };
}

/** What is drawn where there is no room yet: drawn for none, a picture would be drawn twice. */
export const undrawn: Drawing = { option: {}, marks: [] };

/** A value once it has stood for a moment: what changes with every frame can not be read. */
export function useSettled<T>(value: T): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), 120);
    return () => clearTimeout(timer);
  }, [value]);
  return settled;
}

/** A drawing without zoom, where its tile has no tools; what opens with a part of its axis keeps the way to the rest. */
const toolsOf = (tile: TileInfo, drawing: Drawing): Drawing =>
  tile.hasTools === false
    ? { ...drawing, plane: undefined, overview: tile.options?.window ? drawing.overview : undefined }
    : drawing;

/** A tile whose lines at measures are where the answer has them; one without a figure is not drawn. */
function withReferences(tile: TileInfo, at: readonly (number | null)[] | null | undefined): TileInfo {
  if (!tile.references?.some((r) => r.measure !== null)) return tile;
  const references = tile.references.flatMap((r, i) => {
    if (r.measure === null) return [r];
    const figure = at?.[i];
    return typeof figure === 'number' ? [{ ...r, at: figure }] : [];
  });
  return { ...tile, references };
}
