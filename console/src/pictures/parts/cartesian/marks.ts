import { fixedOf } from '../colours';
import { type Bars, type DrawingInput, opacityOf, strokeOf } from '../drawing';
import { patternOf } from '../patterns';
import type { Members } from './members';
import { isStackedOn, type Plot, wordOfRest } from './plot';
import { markBands, markLines } from './references';
import type { Broken, Placed, Series } from './series';

/** What is drawn of figures along an axis. */
export interface Scene {
  input: DrawingInput;
  along: Members;
  placed: Placed;
  plot: Plot;
  /** The broken bar of the rest, if it has one. */
  broken?: Broken;
}

/** The series as the drawing library takes them: bars and lines, parts of lines that are dotted, pieces of a broken bar. */
export const drawnSeries = (scene: Scene): object[] => [
  ...scene.placed.shown.map((s, i) => (s.isBar ? barsOfSeries(scene, s, i) : lineOfSeries(scene, s, i))),
  ...scene.placed.shown.flatMap((s) => dottedPart(scene, s) ?? []),
  ...(scene.broken ? endOfBroken(scene, scene.broken) : []),
];

/** How strong the mark at a place is drawn. */
const opacityAt = ({ input: { tile, selection }, along }: Scene, place: number) =>
  tile.pick === 'none'
    ? 1
    : opacityOf(selection, [along.members[place]?.member ?? null], along.members[place]?.isRest ?? false);

/** What bars and lines have in common. */
const ofSeries = (scene: Scene, s: Series, place: number) => {
  const { input, placed, plot } = scene;
  const { tile, tokens: t } = input;
  const isOnOthers = isStackedOn(s, placed) || scene.broken;
  return {
    name: s.name,
    ...(s.side === 'right' ? { yAxisIndex: 1 } : {}),
    color: s.colour,
    // By its place among all, so that it stays when others are hidden.
    ...(t.patterns && placed.isKeyed ? { itemStyle: { decal: patternOf(t, s.at)?.decal } } : {}),
    stack: isOnOthers ? (s.side === 'left' ? 'all' : s.side) : undefined,
    ...(place === 0
      ? { markLine: markLines(tile, t, placed.lying, plot.levels), markArea: markBands(tile, t, placed.lying) }
      : {}),
    emphasis: { focus: 'none' },
    selectedMode: false,
  };
};

/** As thick as reads well where there is room for more, as in a tile that is enlarged. */
const thickness = ({ perMember }: Plot) => ({
  barMaxWidth: Math.max(28, Math.min(44, perMember * 0.4)),
  barCategoryGap: '28%',
});

function barsOfSeries(scene: Scene, s: Series, place: number): object {
  const { input, along, placed, plot, broken } = scene;
  const { isOver, isSplit } = placed;
  const t = input.tokens;
  return {
    ...ofSeries(scene, s, place),
    type: 'bar',
    // On a layer of their own: where bars move, the axes need not be painted anew.
    zlevel: 1,
    ...thickness(plot),
    ...(isOver ? { barGap: '-100%' } : {}),
    data: s.values.map((v, i) => {
      const { member, isRest } = along.members[i] ?? { member: null, isRest: false };
      const isCut = along.isCut(i, s.part);
      return {
        value: i === broken?.at ? broken.body : v,
        itemStyle: {
          color: isRest ? t.rest : ((isSplit ? undefined : fixedOf(along.by, member, t)) ?? s.colour),
          opacity: (isCut ? 0.55 : isOver ? 0.5 : 1) * opacityAt(scene, i),
          borderColor: isCut || isOver ? s.colour : undefined,
          borderType: isCut ? 'dashed' : 'solid',
          borderWidth: isOver ? 1.5 : isCut ? 1 : 0,
        },
      };
    }),
  };
}

/** A period that is not whole is no fall: the line to it is dotted. Stacked areas lie one on the other and stay as they are. */
const isDotted = (s: Series, { isStacked, isBar }: Placed) => !s.isBar && !(isStacked && !isBar);

/** On a layer above bars, where there are some. */
const layerOfLines = ({ isBar }: Placed) => (isBar ? 2 : 0);

function lineOfSeries(scene: Scene, s: Series, place: number): object {
  const { input, along, placed } = scene;
  const { tokens: t } = input;
  const { line: course, points } = input.tile.options ?? {};
  const size = s.values.filter((x) => x !== null).length > 60 ? 0 : s.values.length > 24 ? 2 : 4;
  return {
    ...ofSeries(scene, s, place),
    type: 'line',
    zlevel: layerOfLines(placed),
    smooth: course === 'smooth' ? 0.35 : false,
    step: course === 'steps' ? 'middle' : undefined,
    symbol: points === 'none' ? 'none' : 'circle',
    symbolSize: 5,
    showSymbol: true,
    showAllSymbol: true,
    lineStyle: strokeOf(t, s.at),
    areaStyle: placed.manner.filled ? { opacity: placed.isStacked ? 0.45 : 0.18 } : undefined,
    data: s.values.map((v, i) => {
      const isCut = along.isCut(i, s.part);
      return {
        value: isCut && isDotted(s, placed) ? null : v,
        symbolSize: isCut ? 7 : size,
        itemStyle: {
          color: isCut ? t.surface : s.colour,
          borderColor: s.colour,
          borderWidth: isCut ? 1.5 : 0,
          opacity: opacityAt(scene, i),
        },
      };
    }),
  };
}

/** What of a line leads to periods that are not whole; undefined if nothing does. */
function dottedPart(scene: Scene, s: Series): object | undefined {
  const { input, along, placed } = scene;
  if (!isDotted(s, placed)) return undefined;
  const cuts = s.values.map((v, i) => v !== null && along.isCut(i, s.part));
  if (!cuts.includes(true)) return undefined;
  return {
    name: s.name,
    type: 'line',
    zlevel: layerOfLines(placed),
    ...(s.side === 'right' ? { yAxisIndex: 1 } : {}),
    color: s.colour,
    symbol: 'circle',
    showAllSymbol: true,
    silent: true,
    selectedMode: false,
    lineStyle: { width: 1.5, type: 'dotted' },
    data: s.values.map((v, i) =>
      cuts[i] || cuts[i - 1] || cuts[i + 1]
        ? {
            value: v,
            symbolSize: cuts[i] ? 7 : 0,
            itemStyle: {
              color: input.tokens.surface,
              borderColor: s.colour,
              borderWidth: 1.5,
              opacity: opacityAt(scene, i),
            },
          }
        : null,
    ),
  };
}

/** The gap of a broken bar and its end, with its figure. */
function endOfBroken(scene: Scene, broken: Broken): object[] {
  const { input, along, placed, plot } = scene;
  const { tokens: t } = input;
  const piece = (length: number, itemStyle: object, isLabelled: boolean) => ({
    type: 'bar',
    zlevel: 1,
    stack: 'all',
    silent: true,
    selectedMode: false,
    ...thickness(plot),
    data: along.keys.map((_, i) => (i === broken.at ? length : null)),
    itemStyle,
    label: {
      show: isLabelled,
      position: placed.lying ? 'right' : 'top',
      color: t.ink,
      fontSize: t.size,
      formatter: wordOfRest(broken),
    },
  });
  return [
    piece(broken.gap, { opacity: 0 }, false),
    piece(broken.end - broken.body - broken.gap, { color: t.rest, opacity: opacityAt(scene, broken.at) }, true),
  ];
}

/** Bars as lengths, the parts of a split one on the other where they add up. */
export function barsOf(
  option: object,
  series: { values: (number | null)[] }[],
  isStacked: boolean,
  lying: boolean,
): Bars {
  const above: number[] = [];
  const below: number[] = [];
  const ends = series.map(({ values }) =>
    values.map((v, i): [number, number] | null => {
      if (v === null) return null;
      if (!isStacked) return [0, v];
      const side = v < 0 ? below : above;
      const from = side[i] ?? 0;
      side[i] = from + v;
      return [from, from + v];
    }),
  );
  const still = JSON.stringify(option, (key, part) => (key === 'value' ? undefined : part));
  return { still, ends, lying };
}
