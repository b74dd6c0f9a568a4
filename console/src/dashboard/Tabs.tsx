import { ActionIcon, Menu } from '@mantine/core';
import { EllipsisVertical } from 'lucide-react';
import type { KeyboardEvent } from 'react';
import type { ViewEdit } from '../api/client';
import classes from './dashboard.module.css';
import { useDispatch, usePage } from './usePage';

/** The sheets of the dashboard; while arranging, each with what can be done to it. */
export function Tabs() {
  const page = usePage((s) => s.page);
  const open = usePage((s) => s.tab?.name ?? '');
  const arranging = usePage((s) => s.isArranging);
  const dispatch = useDispatch();
  const onOpen = (name: string) => dispatch({ type: 'open tab', tab: name });
  const change = (edit: ViewEdit) => dispatch({ type: 'edit', edit });
  const names = page.tabs.map((t) => t.name);

  function step(event: KeyboardEvent, at: number) {
    const to = event.key === 'ArrowRight' ? at + 1 : event.key === 'ArrowLeft' ? at - 1 : undefined;
    const name = to === undefined ? undefined : names[(to + names.length) % names.length];
    if (!name) return;
    onOpen(name);
    document.getElementById(`tab-${name}`)?.focus();
  }

  function order(from: number, to: number) {
    const tabs = [...names];
    tabs.splice(to, 0, ...tabs.splice(from, 1));
    change({ edit: 'order-tabs', tabs });
  }

  const at = names.indexOf(open);
  const tab = page.tabs[at];
  return (
    <nav className={classes.tabs} aria-label="Tabs">
      <div className={classes.tabList} role="tablist" aria-label="Tabs">
        {page.tabs.map((t, i) => (
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
          >
            {t.title}
            {t.own && <span className={classes.own}>yours</span>}
          </button>
        ))}
      </div>
      {arranging && tab && (
        <Menu position="bottom-start" withinPortal>
          <Menu.Target>
            <ActionIcon
              size="sm"
              variant="subtle"
              className={classes.tabMenu}
              aria-label={`Change the tab ${tab.title}`}
            >
              <EllipsisVertical size={14} aria-hidden />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Label>{tab.title}</Menu.Label>
            <Menu.Item disabled={at === 0} onClick={() => order(at, at - 1)}>
              Move left
            </Menu.Item>
            <Menu.Item disabled={at === names.length - 1} onClick={() => order(at, at + 1)}>
              Move right
            </Menu.Item>
            {tab.own && (
              <Menu.Item onClick={() => dispatch({ type: 'name tab', naming: { tab: tab.name, title: tab.title } })}>
                Rename
              </Menu.Item>
            )}
            {tab.own && (
              <Menu.Item onClick={() => change({ edit: 'remove-tab', tab: tab.name })}>
                Remove; its tiles go home
              </Menu.Item>
            )}
          </Menu.Dropdown>
        </Menu>
      )}
    </nav>
  );
}
