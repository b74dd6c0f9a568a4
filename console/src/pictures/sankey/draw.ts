import type { Value } from '../../api/client';
import { allOthers, label } from '../../model/labels';
import { colourOf } from '../parts/colours';
import { base, type Drawing, type DrawingInput, html, type Mark, opacityOf, partsOf, tip } from '../parts/drawing';
import { leftOutOf } from '../parts/tree';

/** A member on one of the two sides. */
interface Side {
  key: string;
  name: string;
  colour: string;
  sum: number;
  marks: number[];
}

/** Flows from the members of one field to those of another. */
export function draw(input: DrawingInput): Drawing {
  const { table, tokens: t, selection } = input;
  const parts = partsOf(table);
  const [from, to] = parts.groups;
  const figure = parts.figures[0];
  if (!from || !to || !figure) return { option: base(t), marks: [] };
  const sides = new Map<string, Side>();
  const marks: Mark[] = [];
  let leftOut = 0;
  const links: { source: string; target: string; value: number; marks: number[]; lineStyle: object }[] = [];
  const side = (at: 0 | 1, member: Value, isRest: boolean) => {
    const key = `${at} ${isRest ? 'rest' : JSON.stringify(member)}`;
    let found = sides.get(key);
    if (!found) {
      const column = at === 0 ? from : to;
      const colour = at === 1 ? t.quiet : isRest ? t.rest : colourOf(column, member, t);
      found = { key, name: isRest ? allOthers : label(member, column), colour, sum: 0, marks: [] };
      sides.set(key, found);
    }
    return found;
  };
  for (let row = 0; row < parts.rows; row++) {
    const value = figure.values[row] ?? null;
    const member = [parts.group(0)[row] ?? null, parts.group(1)[row] ?? null];
    const isRest = parts.isRest(row);
    if (value === null || value <= 0) {
      leftOut++;
      continue;
    }
    const [source, target] = [side(0, member[0] ?? null, isRest), side(1, member[1] ?? null, isRest)];
    for (const end of [source, target]) {
      end.sum += value;
      end.marks.push(marks.length);
    }
    links.push({
      source: source.key,
      target: target.key,
      value,
      marks: [marks.length],
      lineStyle: { color: source.colour, opacity: 0.45 * opacityOf(selection, member, isRest) },
    });
    marks.push({
      member,
      isRest,
      text: `${source.name} to ${target.name}: ${label(value, figure.column)}`,
      series: 0,
      data: marks.length,
    });
  }
  /** How much room the names of a side want, as far as there is some. */
  const widest = (at: 0 | 1) => {
    const names = [...sides.values()].filter((s) => s.key.startsWith(`${at}`)).map((s) => s.name.length);
    return Math.min(input.width * 0.28, 0.7 * t.size * Math.max(0, ...names) + 8);
  };
  return {
    option: {
      ...base(t),
      series: [
        {
          type: 'sankey',
          animation: false,
          left: widest(0) + 6,
          right: widest(1) + 6,
          top: 8,
          bottom: 8,
          nodeWidth: 12 * t.scale,
          nodeGap: Math.max(6, t.size * 0.8),
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
            label: s.key.startsWith('0') ? { position: 'left', width: widest(0) } : { width: widest(1) },
            itemStyle: { color: s.colour, borderWidth: 0 },
          })),
          links,
        },
      ],
      tooltip: {
        ...(base(t).tooltip as object),
        formatter: (p: { dataType: string; dataIndex: number; name: string }) => {
          if (p.dataType === 'edge') {
            const [link, mark] = [links[p.dataIndex], marks[p.dataIndex]];
            const source = link && sides.get(link.source);
            return link && mark && source
              ? `<div>${html(`${source.name} to ${sides.get(link.target)?.name}`)}</div>${tip(source.colour, figure.column.title, link.value, figure.column)}`
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
