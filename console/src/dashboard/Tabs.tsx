import { type DragEvent, type KeyboardEvent, lazy, Suspense } from 'react';
import type { DashboardPage } from '../api/client';
import classes from './dashboard.module.css';
import { useDispatch, usePage } from './usePage';

const TabMenu = lazy(() => import('../arrange/TabMenu'));

/** What is carried while a tab is dragged: nothing else may be dropped on tabs. */
const tabType = 'application/x-weir-tab';

/** The sheets of the dashboard; while arranging, each with what can be done to it. */
export function Tabs() {
  const page = usePage((s) => s.page);
  const open = usePage((s) => s.tab?.name ?? '');
  const arranging = usePage((s) => s.isArranging);
  const dispatch = useDispatch();
  const onOpen = (name: string) => dispatch({ type: 'open tab', tab: name });
  const tab = page.tabs.find((t) => t.name === open);
  const seen = page.tabs.filter((t) => !t.hidden);
  const areas = page.areas.filter((a) => seen.some((t) => t.area === a.name));
  const tabs = areas.length > 0 ? seen.filter((t) => t.area === tab?.area) : seen;
  const names = tabs.map((t) => t.name);

  function step(event: KeyboardEvent, at: number) {
    const to = event.key === 'ArrowRight' ? at + 1 : event.key === 'ArrowLeft' ? at - 1 : undefined;
    const name = to === undefined ? undefined : names[(to + names.length) % names.length];
    if (!name) return;
    onOpen(name);
    document.getElementById(`tab-${name}`)?.focus();
  }

  const dragging = useTabDragging();
  return (
    <nav className={classes.tabs} aria-label="Tabs">
      {areas.length > 0 && (
        <Areas
          areas={areas}
          open={tab?.area}
          onOpen={(area) => {
            const first = seen.find((t) => t.area === area);
            if (first) onOpen(first.name);
          }}
        />
      )}
      <div className={classes.tabList} role="tablist" aria-label="Tabs">
        {tabs.map((t, i) => (
          <button
            key={t.name}
            type="button"
            role="tab"
            id={`tab-${t.name}`}
            aria-selected={t.name === open}
            tabIndex={t.name === open ? 0 : -1}
            className={classes.tab}
            onClick={() => onOpen(t.name)}
            onKeyDown={(e) => step(e, i)}
            data-tab={t.name}
            {...(arranging && dragging(t.name))}
          >
            {t.title}
            {t.own && <span className={classes.own}>yours</span>}
          </button>
        ))}
      </div>
      {arranging && tab && (
        <Suspense>
          <TabMenu key={tab.name} tab={tab} />
        </Suspense>
      )}
    </nav>
  );
}

/** Areas gather tabs: another one opens at its first tab. */
function Areas({
  areas,
  open,
  onOpen,
}: {
  areas: DashboardPage['areas'];
  open: string | null | undefined;
  onOpen: (area: string) => void;
}) {
  return (
    <div className={classes.areas} role="group" aria-label="Areas">
      {areas.map((a) => (
        <button
          key={a.name}
          type="button"
          className={classes.area}
          aria-pressed={a.name === open}
          onClick={() => a.name !== open && onOpen(a.name)}
        >
          {a.title}
        </button>
      ))}
    </div>
  );
}

/** While arranging, a tab is dragged to before or behind another; its menu does the same for the keyboard and for touch. */
function useTabDragging() {
  const page = usePage((s) => s.page);
  const dispatch = useDispatch();
  return (name: string) => ({
    draggable: true,
    onDragStart: (e: DragEvent) => e.dataTransfer.setData(tabType, name),
    onDragOver: (e: DragEvent) => e.dataTransfer.types.includes(tabType) && e.preventDefault(),
    onDrop: (e: DragEvent) => {
      e.preventDefault();
      const moved = e.dataTransfer.getData(tabType);
      if (!moved || moved === name) return;
      const order = page.tabs.map((t) => t.name);
      const to = order.indexOf(name);
      order.splice(order.indexOf(moved), 1);
      order.splice(to, 0, moved);
      dispatch({ type: 'edit', edit: { edit: 'order-tabs', tabs: order } });
    },
  });
}
