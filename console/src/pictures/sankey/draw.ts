import type { ColumnInfo, Value } from '../../api/client';
import { allOthers, label } from '../../model/labels';
import { colourOf } from '../parts/colours';
import {
  base,
  type Drawing,
  type DrawingInput,
  faint,
  html,
  type Mark,
  opacityOf,
  partsOf,
  tip,
} from '../parts/drawing';
import { leftOutOf } from '../parts/tree';

/** A member of one of the fields, where flows begin, pass or end. */
interface Side {
  key: string;
  name: string;
  colour: string;
  sum: number;
  marks: number[];
}

/** What flows from one member to another, and how much of it is picked. */
interface Link {
  source: Side;
  target: Side;
  value: number;
  strong: number;
  marks: number[];
}

/** Flows from the members of each field to those of the next. */
export function draw(input: DrawingInput): Drawing {
  const { table, tokens: t, selection } = input;
  const parts = partsOf(table);
  const { groups } = parts;
  const figure = parts.figures[0];
  if (groups.length < 2 || !figure) return { option: base(t), marks: [] };
  const lastField = groups.length - 1;
  const sides = new Map<string, Side>();
  const marks: Mark[] = [];
  let leftOut = 0;
  const links = new Map<string, Link>();
  const side = (at: number, member: Value, isRest: boolean) => {
    const key = `${at} ${isRest ? 'rest' : JSON.stringify(member)}`;
    let found = sides.get(key);
    if (!found) {
      const column = groups[at] as ColumnInfo;
      const colour = at === lastField ? t.quiet : isRest ? t.rest : colourOf(column, member, t);
      found = { key, name: isRest ? allOthers : label(member, column), colour, sum: 0, marks: [] };
      sides.set(key, found);
    }
    return found;
  };
  for (let row = 0; row < parts.rows; row++) {
    const value = figure.values[row] ?? null;
    const member = groups.map((_, g) => parts.group(g)[row] ?? null);
    const isRest = parts.isRest(row);
    if (value === null || value <= 0) {
      leftOut++;
      continue;
    }
    // The rest is of the first field: what it flows to has its own members.
    const path = member.map((m, at) => side(at, m, isRest && at === 0));
    const mark = marks.length;
    const opacity = opacityOf(selection, member, isRest);
    path.forEach((end, at) => {
      end.sum += value;
      end.marks.push(mark);
      const next = path[at + 1];
      if (!next) return;
      const key = `${end.key} > ${next.key}`;
      const link = links.get(key) ?? { source: end, target: next, value: 0, strong: 0, marks: [] };
      link.value += value;
      if (opacity === 1) link.strong += value;
      link.marks.push(mark);
      links.set(key, link);
    });
    marks.push({
      member,
      isRest,
      text: `${path.map((p) => p.name).join(' to ')}: ${label(value, figure.column)}`,
      series: 0,
      data: mark,
    });
  }
  const flows = [...links.values()];
  /** How much room the names of a side want, as far as there is some. */
  const widest = (at: number) => {
    const names = [...sides.values()].filter((s) => s.key.startsWith(`${at} `)).map((s) => s.name.length);
    return Math.min(input.width * 0.28, 0.7 * t.size * Math.max(0, ...names) + 8);
  };
  const most = Math.max(...groups.map((_, at) => [...sides.keys()].filter((k) => k.startsWith(`${at} `)).length));
  // Between many there is less room than between few: what flows takes at least half of the height.
  const gap = Math.min(Math.max(6, t.size * 0.8), (input.height - 16) / 2 / Math.max(1, most - 1));
  /** At the outside where it is the first or the last; over its flows between, with the ground of the page around it. */
  const labelOf = ({ key }: Side) =>
    key.startsWith('0 ')
      ? { position: 'left', width: widest(0) }
      : key.startsWith(`${lastField} `)
        ? { width: widest(lastField) }
        : { width: input.width / groups.length - 24, textBorderColor: t.surface, textBorderWidth: 3 };
  return {
    option: {
      ...base(t),
      series: [
        {
          type: 'sankey',
          animation: false,
          left: widest(0) + 6,
          right: widest(lastField) + 6,
          top: 8,
          bottom: 8,
          nodeWidth: 12 * t.scale,
          nodeGap: gap,
          draggable: false,
          emphasis: { focus: 'none', lineStyle: { opacity: 0.7 } },
          label: {
            color: t.ink,
            fontSize: t.size,
            overflow: 'truncate',
            formatter: (p: { name: string }) => sides.get(p.name)?.name ?? '',
          },
          labelLayout: { hideOverlap: true },
          data: [...sides.values()].map((s) => ({
            name: s.key,
            marks: s.marks,
            label: labelOf(s),
            itemStyle: { color: s.colour, borderWidth: 0 },
          })),
          links: flows.map(({ source, target, value, strong, marks }) => ({
            source: source.key,
            target: target.key,
            value,
            marks,
            // As strong as the part of it that is picked.
            lineStyle: { color: source.colour, opacity: 0.45 * (faint + (1 - faint) * (strong / value)) },
          })),
        },
      ],
      tooltip: {
        ...(base(t).tooltip as object),
        formatter: (p: { dataType: string; dataIndex: number; name: string }) => {
          if (p.dataType === 'edge') {
            const link = flows[p.dataIndex];
            return link
              ? `<div>${html(`${link.source.name} to ${link.target.name}`)}</div>${tip(link.source.colour, figure.column.title, link.value, figure.column)}`
              : '';
          }
          const node = sides.get(p.name);
          return node ? tip(node.colour, node.name, node.sum, figure.column) : '';
        },
      },
    },
    marks,
    note: leftOutOf({ leftOut }),
  };
}
