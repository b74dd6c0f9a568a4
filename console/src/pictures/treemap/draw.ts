import { formatOf, label, shortNumber } from '../../model/labels';
import { onColour } from '../parts/colours';
import { base, type Drawing, type DrawingInput } from '../parts/drawing';
import { leftOutOf, type Node, treeOf, treeTip } from '../parts/tree';
import { letter } from '../parts/wrap';

/**
 * True if a name, which may be shortened, and the figure below it, which may not, can stand in a width: 2 of 20 m would be another figure.
 * @param width In pixels, with the room at both sides.
 */
function hasRoom(text: string, width: number, size: number): boolean {
  const [name = '', figure = ''] = text.split('\n');
  const shortest = Math.min(name.length, 4);
  return width - 8 >= Math.max(shortest, figure.length) * letter * size;
}

/** A label that is not shown: the library lets the layout of a label change its type, and not leave it out. */
const unseen = { fontSize: 0.01 };

/** Rectangles within rectangles. */
export function draw(input: DrawingInput): Drawing {
  const { tokens: t } = input;
  const tree = treeOf(input);
  const { figure } = tree;
  if (!figure) return { option: base(t), marks: [] };
  const format = { ...formatOf(figure), unit: '' };
  const made = (node: Node): object => ({
    name: node.name,
    value: node.value,
    marks: node.marks,
    itemStyle: {
      color: node.colour,
      opacity: node.children ? 1 : node.opacity,
      borderColor: node.children ? node.colour : t.surface,
    },
    label: { color: onColour(node.colour, t) },
    upperLabel: { color: onColour(node.colour, t) },
    children: node.children?.map(made),
  });
  const isNested = tree.nodes.some((n) => n.children);
  return {
    option: {
      ...base(t),
      series: [
        {
          type: 'treemap',
          animation: false,
          labelLayout: ({ rect, text }: { rect: { width: number }; text: string }) =>
            hasRoom(text, rect.width, t.size) ? {} : unseen,
          left: 0,
          right: 0,
          top: 0,
          bottom: 0,
          roam: false,
          nodeClick: false,
          breadcrumb: { show: false },
          sort: 'desc',
          label: {
            position: 'insideTopLeft',
            fontSize: t.size,
            lineHeight: t.size + 4,
            padding: 2,
            formatter: (p: { name: string; value: number }) => `${p.name}\n${shortNumber(p.value, format)}`,
          },
          upperLabel: { show: isNested, height: t.size + 8, fontSize: t.size, fontWeight: 600, formatter: '{b}' },
          itemStyle: { borderWidth: 1, gapWidth: 1, borderColor: t.surface },
          levels: isNested ? [{ itemStyle: { borderWidth: 0, gapWidth: 3 }, upperLabel: { show: false } }] : [],
          emphasis: { itemStyle: { borderColor: t.ink }, upperLabel: { show: isNested } },
          data: tree.nodes.map(made),
        },
      ],
      tooltip: { ...(base(t).tooltip as object), formatter: treeTip(figure, tree.total) },
    },
    marks: tree.marks,
    note: leftOutOf(tree),
    summary: `${label(tree.total, figure)} in all`,
  };
}
