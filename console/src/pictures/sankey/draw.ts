import type { ColumnInfo } from '../../api/client';
import { base, type Drawing, type DrawingInput, faint, html, partsOf, tip } from '../parts/drawing';
import { leftOutOf } from '../parts/tree';
import { type Flows, flowsOf, type Side } from './flows';

/** Flows from the members of each field to those of the next. */
export function draw(input: DrawingInput): Drawing {
  const { tokens: t } = input;
  const parts = partsOf(input.table);
  const figure = parts.figures[0];
  if (parts.groups.length < 2 || !figure) return { option: base(t), marks: [] };
  const flows = flowsOf(input, parts, figure);
  return {
    option: {
      ...base(t),
      series: [seriesOf(input, flows, parts.groups.length)],
      tooltip: {
        ...(base(t).tooltip as object),
        formatter: (over: Over) => tipOf(over, flows, figure.column),
      },
    },
    marks: flows.marks,
    note: leftOutOf(flows),
  };
}

/** @param fields How many fields flows go through. */
function seriesOf(input: DrawingInput, { sides, links }: Flows, fields: number): object {
  const { tokens: t, width, height } = input;
  const last = fields - 1;
  const ofField = (at: number) => sides.filter((s) => s.at === at);
  /** How much room the names of a side want, as far as there is some. */
  const widest = (at: number) =>
    Math.min(width * 0.28, 0.7 * t.size * Math.max(0, ...ofField(at).map((s) => s.name.length)) + 8);
  const most = Math.max(...Array.from({ length: fields }, (_, at) => ofField(at).length));
  const [left, right] = [widest(0), widest(last)];
  /** At the outside where it is the first or the last; over its flows between, with the ground of the page around it. */
  const labelOf = ({ at }: Side) =>
    at === 0
      ? { position: 'left', width: left }
      : at === last
        ? { width: right }
        : { width: width / fields - 24, textBorderColor: t.surface, textBorderWidth: 3 };
  const names = new Map(sides.map((s) => [s.key, s.name]));
  return {
    type: 'sankey',
    animation: false,
    left: left + 6,
    right: right + 6,
    top: 8,
    bottom: 8,
    nodeWidth: 12 * t.scale,
    // Between many there is less room than between few: what flows takes at least half of the height.
    nodeGap: Math.min(Math.max(6, t.size * 0.8), (height - 16) / 2 / Math.max(1, most - 1)),
    draggable: false,
    emphasis: { focus: 'none', lineStyle: { opacity: 0.7 } },
    label: {
      color: t.ink,
      fontSize: t.size,
      overflow: 'truncate',
      formatter: (p: { name: string }) => names.get(p.name) ?? '',
    },
    labelLayout: { hideOverlap: true },
    data: sides.map((s) => ({
      name: s.key,
      marks: s.marks,
      label: labelOf(s),
      itemStyle: { color: s.colour, borderWidth: 0 },
    })),
    links: links.map(({ source, target, value, strong, marks }) => ({
      source: source.key,
      target: target.key,
      value,
      marks,
      // As strong as the part of it that is picked.
      lineStyle: { color: source.colour, opacity: 0.45 * (faint + (1 - faint) * (strong / value)) },
    })),
  };
}

/** What the pointer is over: a flow by its place, or a member by its key. */
interface Over {
  dataType: string;
  dataIndex: number;
  name: string;
}

function tipOf({ dataType, dataIndex, name }: Over, { sides, links }: Flows, column: ColumnInfo): string {
  if (dataType !== 'edge') {
    const side = sides.find((s) => s.key === name);
    return side ? tip(side.colour, side.name, side.sum, column) : '';
  }
  const link = links[dataIndex];
  if (!link) return '';
  const { source, target, value } = link;
  return `<div>${html(`${source.name} to ${target.name}`)}</div>${tip(source.colour, column.title, value, column)}`;
}
