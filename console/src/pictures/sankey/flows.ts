import type { ColumnInfo, Value } from '../../api/client';
import { allOthers, label } from '../../model/labels';
import { colourOf } from '../parts/colours';
import { type DrawingInput, type Mark, opacityOf, type Parts } from '../parts/drawing';

/** A member of one of the fields, where flows begin, pass or end. */
export interface Side {
  key: string;
  /** The place of its field. */
  at: number;
  name: string;
  colour: string;
  sum: number;
  marks: number[];
}

/** What flows from one member to another, and how much of it is picked. */
export interface Link {
  source: Side;
  target: Side;
  value: number;
  strong: number;
  marks: number[];
}

/** What flows, and between whom. */
export interface Flows {
  sides: Side[];
  links: Link[];
  marks: Mark[];
  /** How many lines of the result are no flow, since they have no figure above nothing. */
  leftOut: number;
}

/** @param column The figure of a flow. */
export function flowsOf(
  { tokens: t, selection }: DrawingInput,
  parts: Parts,
  { column, values }: Parts['figures'][number],
): Flows {
  const { groups } = parts;
  const sides = new Map<string, Side>();
  const links = new Map<string, Link>();
  const marks: Mark[] = [];
  let leftOut = 0;
  const sideOf = (at: number, member: Value, isRest: boolean): Side => {
    const key = `${at} ${isRest ? 'rest' : JSON.stringify(member)}`;
    const known = sides.get(key);
    if (known) return known;
    const field = groups[at] as ColumnInfo;
    const colour = at === groups.length - 1 ? t.quiet : isRest ? t.rest : colourOf(field, member, t);
    const made = { key, at, name: isRest ? allOthers : label(member, field), colour, sum: 0, marks: [] };
    sides.set(key, made);
    return made;
  };
  const linkOf = (source: Side, target: Side): Link => {
    const key = `${source.key} > ${target.key}`;
    const link = links.get(key) ?? { source, target, value: 0, strong: 0, marks: [] };
    links.set(key, link);
    return link;
  };
  for (let row = 0; row < parts.rows; row++) {
    const value = values[row] ?? null;
    if (value === null || value <= 0) {
      leftOut++;
      continue;
    }
    const member = groups.map((_, g) => parts.group(g)[row] ?? null);
    const isRest = parts.isRest(row);
    const isStrong = opacityOf(selection, member, isRest) === 1;
    const mark = marks.length;
    // The rest is of the first field: what it flows to has its own members.
    const path = member.map((m, at) => sideOf(at, m, isRest && at === 0));
    path.forEach((side, at) => {
      side.sum += value;
      side.marks.push(mark);
      const next = path[at + 1];
      if (!next) return;
      const link = linkOf(side, next);
      link.value += value;
      if (isStrong) link.strong += value;
      link.marks.push(mark);
    });
    const text = `${path.map((p) => p.name).join(' to ')}: ${label(value, column)}`;
    marks.push({ member, isRest, text, series: 0, data: mark });
  }
  return { sides: [...sides.values()], links: [...links.values()], marks, leftOut };
}
