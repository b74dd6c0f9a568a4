import type { Value } from '../../api/client';
import { allOthers, formatOf, isWords, label } from '../../model/labels';
import { figuresAxis, membersAxis, roomAround } from '../parts/cartesian/axes';
import { levelsOf, markBands, markLines, referenced, roomOf } from '../parts/cartesian/references';
import {
  after,
  base,
  type Drawing,
  type DrawingInput,
  html,
  opacityOf,
  type Parts,
  partsOf,
  type Tips,
  tip,
  tipsOf,
} from '../parts/drawing';
import { scaleOf } from '../parts/scale';
import { rowsOf, singleValues } from './dots';

type Figure = Parts['figures'][number];

/** The five figures of a member. */
interface Box {
  member: Value;
  isRest: boolean;
  name: string;
  figures: (number | null)[];
}

/** A single value that lies beyond the whiskers of a box, and how many rows have it. */
interface Beyond {
  /** How manieth its box is. */
  line: number;
  value: number;
  count: number;
}

/** Five figures of each member as a box with whiskers. */
export function draw(input: DrawingInput): Drawing {
  const { tile, tokens: t } = input;
  const parts = partsOf(input.table);
  const by = parts.groups[0];
  const five = parts.figures.slice(0, 5);
  const [first, , , , greatest] = five;
  if (by && five.length === 1) return singleValues(input);
  if (!by || !first || !greatest) return { option: base(t), marks: [] };
  const boxes = Array.from({ length: parts.rows }, (_, row): Box => {
    const [isRest, member] = [parts.isRest(row), parts.group(0)[row] ?? null];
    const name = isRest ? allOthers : label(member, by);
    return { member, isRest, name, figures: five.map((f) => f.values[row] ?? null) };
  });
  const beyond = beyondOf(boxes, input);
  const tips = tipsOf(input);
  const lying = isWords(by);
  const steps = lying ? 4 : Math.max(2, Math.floor(input.height / (60 * t.scale)));
  const known = [...boxes.flatMap((b) => b.figures), ...beyond.map((o) => o.value)];
  const ends = scaleOf(input.scale ?? [...known, ...referenced(tile)], steps);
  const levels = levelsOf(tile, t, lying, ends, input);
  const names = boxes.map((b) => b.name);
  const [category, value] = [membersAxis(input, names, lying), figuresAxis(ends, steps, first.column, input, lying)];
  const start = base(t);
  return {
    option: {
      ...start,
      grid: roomAround(formatOf(first.column).unit, input, lying, lying ? roomOf(levels, t) : 0),
      xAxis: lying ? value : category,
      yAxis: lying ? category : value,
      series: [
        {
          ...boxesSeries(boxes, lying, input),
          markLine: markLines(tile, t, lying, levels),
          markArea: markBands(tile, t, lying),
        },
        ...(beyond.length === 0 ? [] : [beyondSeries(beyond, boxes, lying, input)]),
      ],
      tooltip: {
        ...(start.tooltip as object),
        formatter: ({ dataIndex: i, seriesIndex }: { dataIndex: number; seriesIndex: number }) => {
          const single = seriesIndex === 1 ? beyond[i] : undefined;
          return single
            ? `<div>${html(names[single.line] ?? '')}</div>${tip(t.accent, rowsOf(single.count), single.value, first.column)}`
            : tipAt(boxes[i], i, five, tips, t.accent);
        },
      },
    },
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

/** The values beyond the whiskers of boxes that are shown. */
function beyondOf(boxes: Box[], { outliers }: DrawingInput): Beyond[] {
  const places = new Map(boxes.map((b, i) => [JSON.stringify([b.member]), i]));
  return (outliers ?? []).flatMap((o) => {
    const line = places.get(JSON.stringify(o.member));
    return line === undefined ? [] : [{ line, value: Number(o.value), count: o.count }];
  });
}

/** The boxes as the drawing library takes them. */
const boxesSeries = (boxes: Box[], lying: boolean, { tile, tokens: t, selection }: DrawingInput) => ({
  type: 'boxplot',
  layout: lying ? 'vertical' : 'horizontal',
  selectedMode: false,
  boxWidth: [6 * t.scale, 34 * t.scale],
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
});

/** What lies beyond them; a click on one means its box. */
const beyondSeries = (
  beyond: Beyond[],
  boxes: Box[],
  lying: boolean,
  { tile, tokens: t, selection }: DrawingInput,
) => ({
  type: 'scatter',
  selectedMode: false,
  symbolSize: Math.max(3, 4.5 * t.scale),
  data: beyond.map(({ line, value }) => ({
    value: lying ? [value, line] : [line, value],
    marks: [line],
    itemStyle: {
      color: 'transparent',
      borderColor: boxes[line]?.isRest ? t.rest : t.accent,
      borderWidth: 1.25 * t.scale,
      opacity: tile.pick === 'none' ? 1 : opacityOf(selection, [boxes[line]?.member ?? null], false),
    },
  })),
});

/** What is told of a box in a tip. */
function tipAt(box: Box | undefined, row: number, five: Figure[], tips: Tips, colour: string): string {
  const greatest = five[4];
  if (!box || !greatest) return '';
  const lines = five
    .slice(tips.isSentence ? 5 : 0, 4)
    .map((f, i) => tip(colour, f.column.title, box.figures[i] ?? null, f.column));
  const last = tips.of(row, colour, greatest.column.title, box.figures[4] ?? null, greatest.column);
  return `<div>${html(box.name)}</div>${lines.join('')}${last}`;
}
