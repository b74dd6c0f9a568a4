import type { ColumnInfo, Value } from '../../api/client';
import { allOthers, label } from '../../model/labels';
import { colourOf } from './colours';
import { type DrawingInput, faint, html, type Mark, opacityOf, partsOf, tip } from './drawing';

/** A node of a tree of members: those of the first field, within each those of the second, and so on. */
export interface Node {
  name: string;
  value: number;
  colour: string;
  /** 1 for what is picked, or where nothing is. */
  opacity: number;
  /** The places of the marks that it stands for, one for a leaf. */
  marks: number[];
  children?: Node[];
}

/** A result as a tree, its marks, and how many of its figures can't be drawn as parts of a whole. */
export interface Tree {
  nodes: Node[];
  marks: Mark[];
  total: number;
  leftOut: number;
  /** How many levels it has. */
  depth: number;
  figure?: ColumnInfo;
}

/** A step on the way from the top to a row: what it is called, and what tells it from others. */
interface Step {
  name: string;
  key: string;
}

/** The way to each row: by its fields, or from label to parent. */
function waysOf({
  tile,
  table,
}: Pick<DrawingInput, 'tile' | 'table'>): (row: number) => { member: Value[]; way: Step[] } {
  const parts = partsOf(table);
  const nameOf = (value: Value, g: number) => label(value, parts.groups[g] as ColumnInfo);
  if (!tile.options?.parent)
    return (row) => {
      const member: Value[] = parts.groups.map((_, g) => parts.group(g)[row] ?? null);
      const isRest = parts.isRest(row);
      const names = isRest ? [allOthers] : member.map(nameOf);
      return {
        member,
        way: names.map((name, depth) => ({ name, key: JSON.stringify([isRest, member.slice(0, depth + 1)]) })),
      };
    };
  const parents = new Map(parts.group(0).map((v, row) => [v, parts.group(1)[row] ?? null]));
  const haveChildren = new Set(parents.values());
  return (row) => {
    const own = parts.group(0)[row] ?? null;
    const above: Value[] = [];
    // The service has cut loops; more steps than labels would be one all the same.
    for (
      let at: Value | undefined = own;
      at !== null && at !== undefined && above.length <= parents.size;
      at = parents.get(at)
    )
      above.unshift(at);
    const way = above.map((v) => ({ name: nameOf(v, 0), key: JSON.stringify(v) }));
    // What a label has of its own beside those below it is a part like these.
    if (own !== null && haveChildren.has(own)) way.push({ name: 'itself', key: JSON.stringify([own, 'itself']) });
    return { member: [own], way };
  };
}

/** The rows of a result as a tree: the first field outermost. Figures that are negative, nothing or not there have no part in a whole. */
export function treeOf(input: DrawingInput): Tree {
  const { table, tokens: t, selection, tile } = input;
  const parts = partsOf(table);
  const figure = parts.figures[0];
  const tree: Tree = { nodes: [], marks: [], total: 0, leftOut: 0, depth: 1, figure: figure?.column };
  const [first] = parts.groups;
  if (!figure || !first) return tree;
  const wayOf = waysOf(input);
  const tops = new Set(
    Array.from({ length: parts.rows }, (_, row) => wayOf(row).way).flatMap((way) =>
      way.length > 1 ? [way[0]?.key] : [],
    ),
  );
  // Where all levels are below one label, those next to it are told apart by colour.
  const told = tile.options?.parent && tops.size === 1 ? 1 : 0;
  const paths = new Map<string, Node>();
  const places = new Map<string, number>();
  const placeOf = (key: string) => {
    const place = places.get(key) ?? places.size;
    places.set(key, place);
    return place;
  };
  for (let row = 0; row < parts.rows; row++) {
    const value = figure.values[row] ?? null;
    const isRest = parts.isRest(row);
    if (value === null && tile.options?.parent) continue;
    const { member, way } = wayOf(row);
    if (value === null || value <= 0) {
      tree.leftOut++;
      continue;
    }
    tree.total += value;
    tree.depth = Math.max(tree.depth, way.length);
    const colour = isRest
      ? t.rest
      : tile.options?.parent
        ? (t.series[placeOf((way[told] ?? way[0])?.key ?? '') % t.series.length] ?? t.accent)
        : colourOf(first, member[0] ?? null, t);
    const mark = tree.marks.length;
    tree.marks.push({
      member,
      isRest,
      text: `${way.map((s) => s.name).join(' · ')}: ${label(value, figure.column)}`,
      series: 0,
      data: 0,
    });
    let within = tree.nodes;
    for (const [depth, { name, key }] of way.entries()) {
      let node = paths.get(key);
      if (!node) {
        node = { name, value: 0, colour, opacity: faint, marks: [] };
        paths.set(key, node);
        within.push(node);
      }
      node.value += value;
      node.marks.push(mark);
      node.opacity = Math.max(node.opacity, opacityOf(selection, member, isRest));
      if (depth < way.length - 1) within = node.children ??= [];
    }
  }
  // A leaf is found again where the drawing library keeps it: the tree in order, its root first.
  let place = 0;
  const count = (nodes: Node[]) => {
    for (const node of nodes) {
      place++;
      const [only] = node.marks;
      if (!node.children && only !== undefined) (tree.marks[only] as Mark).data = place;
      else count(node.children ?? []);
    }
  };
  count(tree.nodes);
  return tree;
}

/** What is said of figures that have no part in a whole. */
export const leftOutOf = ({ leftOut }: Pick<Tree, 'leftOut'>): string | undefined =>
  leftOut > 0
    ? `${leftOut} ${leftOut === 1 ? 'figure is' : 'figures are'} not above zero and ${leftOut === 1 ? 'has' : 'have'} no part here.`
    : undefined;

/** The tip over a part of a tree: what it is in, its figure, and its share of the whole. */
export const treeTip =
  (figure: ColumnInfo, total: number) =>
  (p: { name: string; value: number; color: string; treePathInfo?: { name: string }[] }): string => {
    const path = (p.treePathInfo ?? []).map((n) => n.name).filter(Boolean);
    const head = path.length > 1 ? `<div>${html(path.slice(0, -1).join(' · '))}</div>` : '';
    const share = ((100 * p.value) / total).toFixed(1);
    return `${head}${tip(p.color, p.name, p.value, figure)}<div>${share} % of those shown</div>`;
  };
