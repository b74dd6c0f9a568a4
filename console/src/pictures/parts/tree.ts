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
  figure?: ColumnInfo;
}

/** The rows of a result as a tree: the first field outermost. Figures that are negative, nothing or not there have no part in a whole. */
export function treeOf({ table, tokens: t, selection }: DrawingInput): Tree {
  const parts = partsOf(table);
  const figure = parts.figures[0];
  const tree: Tree = { nodes: [], marks: [], total: 0, leftOut: 0, figure: figure?.column };
  const [first] = parts.groups;
  if (!figure || !first) return tree;
  const paths = new Map<string, Node>();
  for (let row = 0; row < parts.rows; row++) {
    const value = figure.values[row] ?? null;
    const isRest = parts.isRest(row);
    const member: Value[] = parts.groups.map((_, g) => parts.group(g)[row] ?? null);
    const names = isRest ? [allOthers] : member.map((m, g) => label(m, parts.groups[g] as ColumnInfo));
    if (value === null || value <= 0) {
      tree.leftOut++;
      continue;
    }
    tree.total += value;
    const colour = isRest ? t.rest : colourOf(first, member[0] ?? null, t);
    const mark = tree.marks.length;
    tree.marks.push({
      member,
      isRest,
      text: `${names.join(' · ')}: ${label(value, figure.column)}`,
      series: 0,
      data: 0,
    });
    let within = tree.nodes;
    for (const [depth, name] of names.entries()) {
      const key = JSON.stringify([isRest, member.slice(0, depth + 1)]);
      let node = paths.get(key);
      if (!node) {
        node = { name, value: 0, colour, opacity: faint, marks: [] };
        paths.set(key, node);
        within.push(node);
      }
      node.value += value;
      node.marks.push(mark);
      node.opacity = Math.max(node.opacity, opacityOf(selection, member, isRest));
      if (depth < names.length - 1) within = node.children ??= [];
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
