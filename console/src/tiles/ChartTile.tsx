import { useElementSize } from '@mantine/hooks';
import { useEffect, useMemo, useRef } from 'react';
import type { Value } from '../api/client';
import { isPicked, toggle, toggleRest } from '../dashboard/selections';
import { light } from '../look/tokens';
import { chart, type Mark } from './charts/chart';
import { type EChartsType, init } from './charts/echarts';
import { PickList } from './PickList';
import type { PictureProps } from './TileFrame';
import classes from './tiles.module.css';

const kinds: Record<string, string> = {
  bar: 'bar chart',
  line: 'line chart',
  area: 'area chart',
  pie: 'pie chart',
  heatmap: 'heat map',
};

/** A chart whose marks can be picked by mouse, touch and keyboard, and read by a screen reader. */
export default function ChartTile({ tile, result, dashboard, weekStarts, selection, onSelect }: PictureProps) {
  const { ref, width, height } = useElementSize();
  const canvas = useRef<HTMLDivElement>(null);
  const drawn = useRef<EChartsType>(undefined);
  const partial = (result.partial ?? []) as Value[];
  const drawing = useMemo(
    () => chart({ tile, table: result.table, partial, dashboard, weekStarts, selection, tokens: light, width, height }),
    [tile, result.table, partial, dashboard, weekStarts, selection, width, height],
  );

  const pick = (mark: Mark) => {
    const shown = drawing.marks.filter((m) => !m.isRest).map((m) => m.member);
    onSelect(mark.isRest ? toggleRest(selection, shown, tile.pick) : toggle(selection, mark.member, tile.pick));
  };
  const pickRef = useRef(pick);
  pickRef.current = pick;
  const marksRef = useRef(drawing.marks);
  marksRef.current = drawing.marks;

  const sized = width > 0 && height > 0;
  useEffect(() => {
    if (!canvas.current || !sized) return;
    const instance = init(canvas.current, null, { renderer: 'svg' });
    drawn.current = instance;
    if (tile.pick !== 'none')
      instance.on('click', (event: { dataIndex?: number }) => {
        const mark = event.dataIndex === undefined ? undefined : marksRef.current[event.dataIndex];
        if (mark) pickRef.current(mark);
      });
    return () => {
      instance.dispose();
      drawn.current = undefined;
    };
  }, [sized, tile.pick]);

  useEffect(() => {
    if (!sized) return;
    drawn.current?.resize({ width, height });
    drawn.current?.setOption(drawing.option, { notMerge: true });
  }, [drawing, sized, width, height]);

  const picked = drawing.marks.filter((m) =>
    m.isRest ? selection?.restOf !== undefined : isPicked(selection, m.member),
  ).length;
  const by = result.table.columns.filter((c) => c.role === 'group').map((c) => c.title);
  const summary = `${by.join(' and ')}: ${kinds[tile.picture] ?? tile.picture}, ${drawing.marks.length} marks, ${picked} selected`;

  return (
    <div ref={ref} className={classes.chart}>
      <div
        ref={canvas}
        className={classes.canvas}
        role="img"
        aria-label={summary}
        style={{ cursor: tile.pick === 'none' ? undefined : 'pointer' }}
      />
      {tile.pick !== 'none' && (
        <PickList
          summary={summary}
          many={tile.pick === 'many'}
          marks={drawing.marks.map((m) => ({
            key: JSON.stringify([m.member, m.isRest]),
            text: m.text,
            picked: m.isRest ? selection?.restOf !== undefined : isPicked(selection, m.member),
            pick: () => pick(m),
          }))}
          onActive={(at) => {
            drawn.current?.dispatchAction({ type: 'downplay' });
            const mark = at === undefined ? undefined : drawing.marks[at];
            if (mark)
              drawn.current?.dispatchAction({ type: 'highlight', seriesIndex: mark.series, dataIndex: mark.data });
          }}
        />
      )}
    </div>
  );
}
