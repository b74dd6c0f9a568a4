import { ActionIcon, Menu } from '@mantine/core';
import { EllipsisVertical } from 'lucide-react';
import type { TabInfo, ViewEdit } from '../api/client';
import { useDispatch, usePage } from '../dashboard/usePage';
import classes from './arrange.module.css';

/** What can be done to a tab while arranging. */
export default function TabMenu({ tab }: { tab: TabInfo }) {
  const names = usePage((s) => s.page).tabs.map((t) => t.name);
  const dispatch = useDispatch();
  const change = (edit: ViewEdit) => dispatch({ type: 'edit', edit });
  const at = names.indexOf(tab.name);

  function order(from: number, to: number) {
    const tabs = [...names];
    tabs.splice(to, 0, ...tabs.splice(from, 1));
    change({ edit: 'order-tabs', tabs });
  }

  return (
    <Menu position="bottom-start" withinPortal>
      <Menu.Target>
        <ActionIcon size="sm" variant="subtle" className={classes.tabMenu} aria-label={`Change the tab ${tab.title}`}>
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
          <Menu.Item onClick={() => change({ edit: 'remove-tab', tab: tab.name })}>Remove; its tiles go home</Menu.Item>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}
