import { label } from '../../model/labels';
import { onColour, shade } from '../parts/colours';
import { base, type Drawing, type DrawingInput } from '../parts/drawing';
import { leftOutOf, type Node, treeOf, treeTip } from '../parts/tree';

/** Rings of parts, the first field innermost. */
export function draw(input: DrawingInput): Drawing {
  const { tokens: t } = input;
  const tree = treeOf(input);
  const { figure } = tree;
  if (!figure) return { option: base(t), marks: [] };
  const made =
    (depth: number) =>
    (node: Node): object => {
      const colour = shade(node.colour, depth * 0.22, t);
      return {
        name: node.name,
        value: node.value,
        marks: node.marks,
        itemStyle: { color: colour, opacity: node.opacity },
        label: { color: onColour(colour, t) },
        children: node.children?.map(made(depth + 1)),
      };
    };
  const depth = Math.max(1, input.table.columns.filter((c) => c.role === 'group').length);
  const radius = Math.max(20, Math.min(input.width, input.height) / 2 - 4);
  const hole = radius * (depth === 1 ? 0.35 : 0.12);
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
            minAngle: Math.max(10, ((t.size + 4) * 360) / (2 * Math.PI * radius * 0.75)),
            width: (radius - hole) / depth - 8,
            overflow: depth === 1 ? 'truncate' : 'break',
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
