import 'react-grid-layout/css/styles.css';
import 'react-resizable/css/styles.css';
import { useEffect, useMemo, useRef, useState } from 'react';
import ReactGridLayout, { type LayoutItem, noCompactor, useContainerWidth } from 'react-grid-layout';
import type { TabInfo, TileInfo } from '../api/client';
import { usePage, usePageStore } from '../dashboard/usePage';
import { useTokens } from '../look/look';
import { TileFrame } from '../tiles/TileFrame';
import classes from './arrange.module.css';
import { ownName } from './ownName';

/** Where the hand is on the page, by mouse or finger. */
function handOf(event: unknown): { x: number; y: number } | undefined {
  const at = event instanceof MouseEvent ? event : event instanceof TouchEvent ? event.touches[0] : undefined;
  return at && { x: at.pageX, y: at.pageY };
}

/** The tab, or the section of the open one, over which the pointer is. */
function under(event: unknown): { tab?: string; section?: string } {
  const at = event instanceof MouseEvent ? event : event instanceof TouchEvent ? event.changedTouches[0] : undefined;
  if (!at) return {};
  const over = document.elementsFromPoint(at.clientX, at.clientY);
  const of = (name: string) => over.find((e) => e.hasAttribute(name))?.getAttribute(name) ?? undefined;
  return { tab: of('data-tab'), section: of('data-section') };
}

/** The tiles of a tab, to be moved and resized; others give way. Each drop is stored at once. */
export default function ArrangeGrid({ tab, section }: { tab: TabInfo; section: string | null }) {
  const { scale } = useTokens();
  const store = usePageStore();
  const { dispatch } = store;
  const { width, containerRef, mounted } = useContainerWidth();
  const tiles = tab.tiles.filter((t) => !t.hidden && !t.isInPanel && t.section === section);
  const layout = useMemo(
    () =>
      tab.tiles
        .filter((t) => !t.hidden && !t.isInPanel && t.section === section)
        .map((t) => ({
          i: t.name,
          x: t.place.column,
          y: t.place.row,
          w: t.place.width,
          h: t.place.height,
          minW: 2,
          minH: 1,
          static: !t.may.includes('move'),
        })),
    [tab, section],
  );

  // The grid draws a dragged tile anew only where it comes over another cell; in between it is moved along with the hand.
  const hand = useRef<{ x: number; y: number }>(undefined);
  function follow(event: unknown, item: HTMLElement | null | undefined) {
    const [before, now] = [hand.current, handOf(event)];
    hand.current = now;
    const drawn = /translate\((-?[\d.]+)px, (-?[\d.]+)px\)/.exec(item?.style.transform ?? '');
    if (!before || !now || !item || !drawn) return;
    const [left, top] = [Number(drawn[1]) + now.x - before.x, Number(drawn[2]) + now.y - before.y];
    item.style.transform = `translate(${left}px, ${top}px)`;
  }

  const place = (tile: string, to: TileInfo['place']) =>
    dispatch({ type: 'edit', edit: { edit: 'place', tab: tab.name, tiles: [{ tile, place: to }] } });

  /** Keeps where a tile was dropped. What it only passed over stays where it was; what it covers now gives way at the service. */
  function keep(dropped: LayoutItem | null) {
    const before = layout.find((l) => l.i === dropped?.i);
    if (!dropped || !before) return;
    const { x, y, w, h } = dropped;
    if (before.x === x && before.y === y && before.w === w && before.h === h) return;
    place(dropped.i, { column: x, row: y, width: w, height: h });
  }

  const isCarrying = usePage((s) => s.carried !== undefined);
  const wasCarrying = useRef(false);
  const [carries, setCarries] = useState(0);
  useEffect(() => {
    // Where moves of the hand come in after the drop, the grid goes on to show a place and none of what is new: it is begun anew.
    if (wasCarrying.current && !isCarrying) setCarries((n) => n + 1);
    wasCarrying.current = isCarrying;
  }, [isCarrying]);

  /** Adds what was carried from a catalogue where it was dropped. */
  function add(at: LayoutItem | undefined) {
    const { carried, page } = store.getState();
    if (!carried || !at) return;
    const { x: column, y: row, w, h: height } = at;
    const edit = {
      edit: 'add-tile' as const,
      tile: ownName(page, carried.shared.split('/')[1] ?? 'tile'),
      shared: carried.shared,
      tab: tab.name,
      section,
      place: { column: Math.min(column, 12 - w), row, width: w, height },
    };
    dispatch({ type: 'carry' });
    dispatch({ type: 'edit', edit });
  }

  /** The arrow keys move a tile by a cell, with Shift they size it. */
  function byKey(event: React.KeyboardEvent, tile: TileInfo) {
    const steps: Record<string, [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, -1],
      ArrowDown: [0, 1],
    };
    const step = steps[event.key];
    if (!step || event.target !== event.currentTarget || !tile.may.includes('move')) return;
    event.preventDefault();
    const { column, row, width: w, height: h } = tile.place;
    const to = event.shiftKey
      ? {
          column,
          row,
          width: Math.min(12 - column, Math.max(2, w + step[0])),
          height: Math.min(40, Math.max(1, h + step[1])),
        }
      : {
          column: Math.min(12 - w, Math.max(0, column + step[0])),
          row: Math.max(0, row + step[1]),
          width: w,
          height: h,
        };
    place(tile.name, to);
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
              cols: 12,
              rowHeight: 68 * scale - 12,
              margin: [12, 12],
              containerPadding: [16, 12],
              maxRows: 500,
            }}
            dragConfig={{ enabled: true, bounded: false, handle: '[data-handle]', threshold: 3 }}
            resizeConfig={{ enabled: true, handles: ['se'] }}
            dropConfig={{
              enabled: tab.may.includes('add'),
              onDragOver: () => {
                const { carried } = store.getState();
                return carried ? { w: carried.width, h: carried.height } : false;
              },
            }}
            onDrop={(_, item) => add(item)}
            onDragStart={(_, __, ___, ____, event) => {
              hand.current = handOf(event);
            }}
            onDrag={(_, __, ___, ____, event, item) => follow(event, item)}
            onDragStop={(_, __, dropped, ___, event) => {
              const target = under(event);
              const other = target.tab !== undefined && target.tab !== tab.name;
              if (dropped && (other || (target.section !== undefined && target.section !== section)))
                dispatch({
                  type: 'edit',
                  edit: {
                    edit: 'move',
                    tile: dropped.i,
                    tab: target.tab ?? tab.name,
                    section: other ? null : target.section,
                  },
                });
              else keep(dropped);
            }}
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
