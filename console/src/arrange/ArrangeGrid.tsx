import 'react-grid-layout/css/styles.css';
import 'react-resizable/css/styles.css';
import ReactGridLayout, { noCompactor, useContainerWidth } from 'react-grid-layout';
import type { TabInfo, TileInfo } from '../api/client';
import { useTokens } from '../look/look';
import { TileFrame } from '../tiles/TileFrame';
import classes from './arrange.module.css';
import { useFollowing } from './hand';
import { columns, placeByKey, useCarries, usePlacing } from './usePlacing';

/** The tiles of a tab, to be moved and resized; others give way. */
export default function ArrangeGrid({ tab, section }: { tab: TabInfo; section: string | null }) {
  const { scale } = useTokens();
  const { width, containerRef, mounted } = useContainerWidth();
  const { tiles, layout, put, keep, drop, add, carriedSize } = usePlacing(tab, section);
  const { take, follow } = useFollowing();
  const carries = useCarries();

  function byKey(event: React.KeyboardEvent, tile: TileInfo) {
    if (event.target !== event.currentTarget || !tile.may.includes('move')) return;
    const to = placeByKey(tile.place, event.key, event.shiftKey);
    if (!to) return;
    event.preventDefault();
    put(tile.name, to);
  }

  return (
    <div className={classes.scroll}>
      <div ref={containerRef} className={classes.area}>
        {mounted && (
          <ReactGridLayout
            key={carries}
            width={width}
            layout={layout}
            compactor={noCompactor}
            gridConfig={{
              cols: columns,
              rowHeight: 68 * scale - 12,
              margin: [12, 12],
              containerPadding: [16, 12],
              maxRows: 500,
            }}
            dragConfig={{ enabled: true, bounded: false, handle: '[data-handle]', threshold: 3 }}
            resizeConfig={{ enabled: true, handles: ['se'] }}
            dropConfig={{ enabled: tab.may.includes('add'), onDragOver: carriedSize }}
            onDrop={(_, item) => add(item)}
            onDragStart={(_, __, ___, ____, event) => take(event)}
            onDrag={(_, __, ___, ____, event, item) => follow(event, item)}
            onDragStop={(_, __, dropped, ___, event) => drop(dropped, event)}
            onResizeStop={(_, __, sized) => keep(sized)}
          >
            {tiles.map((t) => (
              <div
                key={t.name}
                className={classes.item}
                tabIndex={0}
                role="group"
                aria-label={
                  t.may.includes('move') ? `${t.title}: arrow keys move, with Shift they size` : `${t.title}, fixed`
                }
                onKeyDown={(e) => byKey(e, t)}
              >
                <TileFrame tile={t} />
              </div>
            ))}
          </ReactGridLayout>
        )}
      </div>
    </div>
  );
}
