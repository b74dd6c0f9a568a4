import { label } from '../../model/labels';
import { onColour, shade } from '../parts/colours';
import { base, type Drawing, type DrawingInput } from '../parts/drawing';
import { leftOutOf, type Node, treeOf, treeTip } from '../parts/tree';
import { wrapped } from '../parts/wrap';

/** Rings of parts, the first field innermost. */
export function draw(input: DrawingInput): Drawing {
  const { tokens: t } = input;
  const tree = treeOf(input);
  const { figure } = tree;
  if (!figure) return { option: base(t), marks: [] };
  const { depth } = tree;
  const radius = Math.max(20, Math.min(input.width, input.height) / 2 - 4);
  const hole = radius * (depth === 1 ? 0.35 : 0.12);
  const ring = (radius - hole) / depth;
  /** A name in as many lines as its part has room for: along the radius they stand side by side on the arc. */
  const written = (node: Node, level: number) => {
    const arc = (node.value / tree.total) * 2 * Math.PI * (hole + ring * (level + 0.3));
    const lines = Math.min(3, Math.floor((arc - 2) / (t.size + 3)));
    const text = wrapped(
      node.name,
      depth === 1 ? Math.min(arc, ring * 1.2) - 8 : ring - 10,
      depth === 1 ? 2 : lines,
      t.size,
    );
    if (text) return { formatter: () => text };
    // Of many rings each is narrow: along the arc there may be room where across it there is none.
    const along = ring > t.size + 4 ? wrapped(node.name, Math.min(arc, 4 * ring) * 0.7, 1, t.size) : undefined;
    return along && depth > 2 ? { formatter: () => along, rotate: 'tangential' } : { show: false };
  };
  const made =
    (level: number) =>
    (node: Node): object => {
      const colour = shade(node.colour, level * 0.22, t);
      return {
        name: node.name,
        value: node.value,
        marks: node.marks,
        itemStyle: { color: colour, opacity: node.opacity },
        label: { color: onColour(colour, t), ...written(node, level) },
        children: node.children?.map(made(level + 1)),
      };
    };
  return {
    option: {
      ...base(t),
      series: [
        {
          type: 'sunburst',
          animation: false,
          radius: [hole, radius],
          nodeClick: false,
          sort: undefined,
          startAngle: 90,
          itemStyle: { borderColor: t.surface, borderWidth: 1 },
          label: {
            rotate: depth === 1 ? 0 : 'radial',
            fontSize: t.size,
            lineHeight: t.size + 2,
          },
          emphasis: { focus: 'none', itemStyle: { borderColor: t.ink } },
          data: tree.nodes.map(made(0)),
        },
      ],
      tooltip: { ...(base(t).tooltip as object), formatter: treeTip(figure, tree.total) },
    },
    marks: tree.marks,
    note: leftOutOf(tree),
    summary: `${label(tree.total, figure)} in all`,
  };
}
