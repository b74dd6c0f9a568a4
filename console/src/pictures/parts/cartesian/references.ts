import type { TileInfo } from '../../../api/client';
import type { Tokens } from '../../../look/tokens';
import type { DrawingInput } from '../drawing';

/** The values at which lines and bands are, so that they have room. */
export const referenced = (tile: TileInfo): number[] =>
  (tile.references ?? []).flatMap((r) => (r.to === null ? [r.at] : [r.at, r.to]));

/**
 * On which level the title of each line stands, so that none covers another; undefined for a line without one.
 * @param axis Between which values the axis of figures lies.
 */
export function levelsOf(
  tile: TileInfo,
  t: Tokens,
  lying: boolean,
  axis: { min: number; max: number },
  { width, height }: DrawingInput,
): (number | undefined)[] {
  const lines = (tile.references ?? []).filter((r) => r.to === null);
  // About how long the axis is: the names of members take some of the width, those of dates some of the height.
  const long = lying ? width * 0.7 : height - 2.5 * t.size;
  const at = (value: number) => ((value - axis.min) / (axis.max - axis.min || 1)) * long;
  const wide = (title: string) => (lying ? title.length * t.size * 0.58 + 8 : t.size + 4);
  const placed: { level: number; from: number; to: number }[] = [];
  const levels: (number | undefined)[] = lines.map(() => undefined);
  const order = [...lines.keys()].sort((a, b) => (lines[a]?.at ?? 0) - (lines[b]?.at ?? 0));
  for (const i of order) {
    const line = lines[i];
    if (!line || line.title === null) continue;
    const [from, to] = [at(line.at) - wide(line.title) / 2, at(line.at) + wide(line.title) / 2];
    let level = 0;
    while (placed.some((p) => p.level === level && p.to > from && p.from < to)) level++;
    placed.push({ level, from, to });
    levels[i] = level;
  }
  return levels;
}

/** How much room titles of lines take above bars that lie, in pixels. */
export const roomOf = (levels: (number | undefined)[], t: Tokens): number =>
  (Math.max(-1, ...levels.filter((l) => l !== undefined)) + 1) * (t.size + 4);

/**
 * Lines at values of the axis.
 * @param levels See levelsOf: above bars that lie one over another, else at the right, the left and the middle.
 */
export function markLines(tile: TileInfo, t: Tokens, lying: boolean, levels: (number | undefined)[]) {
  const lines = (tile.references ?? []).filter((r) => r.to === null);
  return lines.length === 0
    ? undefined
    : {
        silent: true,
        symbol: 'none',
        animation: false,
        lineStyle: { color: t.ink, type: 'dashed', width: 1.25 * t.scale },
        data: lines.map((r, i) => ({
          [lying ? 'xAxis' : 'yAxis']: r.at,
          label: {
            show: r.title !== null,
            formatter: r.title ?? '',
            ...(lying
              ? { position: 'start', rotate: 0, distance: 3 + (levels[i] ?? 0) * (t.size + 4) }
              : { position: ['insideEndTop', 'insideStartTop', 'insideMiddleTop'][(levels[i] ?? 0) % 3] }),
            color: t.ink,
            fontSize: t.size,
            backgroundColor: t.surface,
            padding: [0, 3],
          },
        })),
      };
}

/** Bands between two values of the axis. */
export function markBands(tile: TileInfo, t: Tokens, lying: boolean) {
  const bands = (tile.references ?? []).filter((r) => r.to !== null);
  const axis = lying ? 'xAxis' : 'yAxis';
  return bands.length === 0
    ? undefined
    : {
        silent: true,
        animation: false,
        itemStyle: { color: t.quiet, opacity: 0.14 },
        data: bands.map((r) => [
          {
            [axis]: r.at,
            label: {
              show: r.title !== null,
              formatter: r.title ?? '',
              position: 'insideTopRight',
              backgroundColor: t.surface,
              padding: [0, 3],
              color: t.ink,
              fontSize: t.size,
            },
          },
          { [axis]: r.to },
        ]),
      };
}
