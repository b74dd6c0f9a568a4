import { label } from '../../model/labels';
import { onColour, shade } from '../parts/colours';
import { base, type Drawing, type DrawingInput } from '../parts/drawing';
import { leftOutOf, type Node, treeOf, treeTip } from '../parts/tree';
import { wrapped } from '../parts/wrap';

/** A text whose lines say something: one that is cut after two letters could be any. */
const telling = (text: string): string =>
  text.split('\n').every((line) => !line.endsWith('…') || line.length > 3) ? text : '';

const lettersIn = (text: string): number => text.replace(/[…\s]/g, '').length;

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
  /** A name in as many lines as its part has room for: along the radius they stand side by side on the arc; or along the arc, in one. */
  const written = (node: Node, level: number) => {
    const inner = hole + ring * level;
    const arcAt = (r: number) => (node.value / tree.total) * 2 * Math.PI * r;
    if (depth === 1) {
      const arc = arcAt(hole + ring * 0.3);
      const text = wrapped(node.name, Math.min(arc, ring * 1.2) - 8, 2, t.size);
      return text ? { formatter: () => text } : { show: false };
    }
    // Side by side where the arc is shortest.
    const lines = Math.min(3, Math.floor((arcAt(inner + t.size / 2) - 2) / (t.size + 3)));
    const across = telling(wrapped(node.name, ring - 10, lines, t.size));
    // A straight line within a ring, as long as its middle does not come out at the inner edge.
    const middle = inner + ring / 2;
    const room = Math.min(arcAt(middle) * 0.85, Math.sqrt(8 * middle * Math.max(0, ring - t.size - 4))) - 4;
    const along = telling(wrapped(node.name, room, 1, t.size));
    if (!across && !along) return { show: false };
    const isAlong = lettersIn(along) > lettersIn(across);
    return { formatter: () => (isAlong ? along : across), ...(isAlong ? { rotate: 'tangential' } : {}) };
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
