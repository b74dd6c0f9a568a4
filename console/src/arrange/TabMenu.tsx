import { Menu } from '@mantine/core';
import { EllipsisVertical } from 'lucide-react';
import type { TabInfo, ViewEdit } from '../api/client';
import { drafted } from '../api/draft';
import { useDispatch, usePage } from '../dashboard/usePage';
import { IconButton } from '../look/IconButton';
import classes from './arrange.module.css';
import { ColumnItems } from './ColumnChoice';

/** What can be done to a tab while arranging. */
export default function TabMenu({ tab }: { tab: TabInfo }) {
  const page = usePage((s) => s.page);
  const { tabs } = page;
  const names = tabs.map((t) => t.name);
  // A hidden tab is stepped over.
  const seen = tabs.filter((t) => !t.hidden && t.area === tab.area).map((t) => t.name);
  const dispatch = useDispatch();
  const change = (edit: ViewEdit) => dispatch({ type: 'edit', edit });
  const at = seen.indexOf(tab.name);
  const mayOrder = page.may.includes('tabs') && tab.may.includes('tabs');

  /** Where all tiles stand in sections, these flow. */
  function columns(number: number) {
    const parts = new Set(tab.tiles.filter((t) => !t.hidden && !t.isInPanel).map((t) => t.section));
    for (const section of parts) change({ edit: 'columns', tab: tab.name, columns: number, section });
  }

  /** Puts the tab where another that is seen stands. */
  function swap(other: string | undefined) {
    if (other === undefined) return;
    const order = [...names];
    order.splice(names.indexOf(other), 0, ...order.splice(names.indexOf(tab.name), 1));
    change({ edit: 'order-tabs', tabs: order });
  }

  return (
    <Menu position="bottom-start" withinPortal>
      <Menu.Target>
        <IconButton className={classes.tabMenu} aria-label={`Change the tab ${tab.title}`}>
          <EllipsisVertical size={14} aria-hidden />
        </IconButton>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>{tab.title}</Menu.Label>
        <Menu.Item disabled={at === 0 || !mayOrder} onClick={() => swap(seen[at - 1])}>
          Move left
        </Menu.Item>
        <Menu.Item disabled={at === seen.length - 1 || !mayOrder} onClick={() => swap(seen[at + 1])}>
          Move right
        </Menu.Item>
        <Menu.Item
          disabled={!tab.may.includes('tabs')}
          onClick={() => dispatch({ type: 'name tab', naming: { tab: tab.name, title: tab.title } })}
        >
          {tab.own || drafted !== undefined ? 'Rename' : 'Rename for me'}
        </Menu.Item>
        {tab.renamed && (
          <Menu.Item onClick={() => change({ edit: 'rename-tab', tab: tab.name, title: '' })}>
            Call it {tab.renamed} again
          </Menu.Item>
        )}
        {drafted === undefined && page.may.includes('add') && page.may.includes('tabs') && (
          <Menu.Item
            onClick={() => dispatch({ type: 'name tab', naming: { copyOf: tab.name, title: `${tab.title} 2` } })}
          >
            Copy
          </Menu.Item>
        )}
        <Menu.Item
          disabled={seen.length === 1 || !tab.may.includes('hide')}
          onClick={() => change({ edit: 'hide-tab', tab: tab.name })}
        >
          {drafted === undefined ? 'Hide' : 'Take it out, with its tiles'}
        </Menu.Item>
        {tab.own && (
          <Menu.Item onClick={() => change({ edit: 'remove-tab', tab: tab.name })}>Remove; its tiles go home</Menu.Item>
        )}
        {tab.may.includes('move') && (
          <>
            <Menu.Label>Its tiles in columns</Menu.Label>
            <ColumnItems onChoose={columns} />
            {drafted !== undefined && <Menu.Item onClick={() => columns(0)}>At places of their own</Menu.Item>}
          </>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}
