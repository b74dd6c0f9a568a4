import { Menu } from '@mantine/core';
import type { TileInfo, ViewEdit } from '../api/client';
import { drafted } from '../api/draft';
import { useDispatch, usePage } from '../dashboard/usePage';
import { ownName } from './ownName';

/** What can be done with a tile while arranging. */
export default function ArrangeItems({ tile }: { tile: TileInfo }) {
  const dispatch = useDispatch();
  const page = usePage((s) => s.page);
  const tab = usePage((s) => s.tab);
  const change = (edit: ViewEdit) => dispatch({ type: 'edit', edit });
  const isFree = tile.may.includes('move');
  const open = (t: { may: string[] }) => t.may.includes('move');
  const tabs = isFree ? page.tabs.filter((t) => !t.hidden && t !== tab && open(t)) : [];
  const sections =
    isFree && tab && !tile.isInPanel
      ? [{ name: null, title: 'No section', may: tab.may }, ...tab.sections].filter(
          (s) => s.name !== tile.section && open(s),
        )
      : [];
  const mayAdd =
    tab?.may.includes('add') && page.may.includes('add') && (tile.dataset !== null || drafted !== undefined);
  return (
    <>
      <Menu.Divider />
      {tile.may.includes('hide') && (
        <Menu.Item onClick={() => change({ edit: 'hide', tile: tile.name })}>
          {drafted === undefined ? 'Hide' : 'Take it out'}
        </Menu.Item>
      )}
      {(tile.own || drafted !== undefined) && (
        <Menu.Item onClick={() => dispatch({ type: 'name tab', naming: { tile: tile.name, title: tile.title } })}>
          Give it a title
        </Menu.Item>
      )}
      {mayAdd && tab && (
        <Menu.Item
          onClick={() => change({ edit: 'copy-tile', tile: tile.name, as: ownName(page, tile.name), tab: tab.name })}
        >
          Copy
        </Menu.Item>
      )}
      {tile.own && <Menu.Item onClick={() => change({ edit: 'remove-tile', tile: tile.name })}>Remove</Menu.Item>}
      {!tile.own && isFree && page.view.isPersonal && (
        <Menu.Item onClick={() => change({ edit: 'as-published', tile: tile.name })}>
          Back to where it was published
        </Menu.Item>
      )}
      {!isFree && <Menu.Label>It stays where its developer has it.</Menu.Label>}
      {sections.length > 1 && <Menu.Label>Move to the section</Menu.Label>}
      {sections.length > 1 &&
        tab &&
        sections.map((s) => (
          <Menu.Item
            key={s.name ?? ''}
            onClick={() => change({ edit: 'move', tile: tile.name, tab: tab.name, section: s.name })}
          >
            {s.title}
          </Menu.Item>
        ))}
      {tabs.length > 0 && <Menu.Label>Move to the tab</Menu.Label>}
      {tabs.map((t) => (
        <Menu.Item key={t.name} onClick={() => change({ edit: 'move', tile: tile.name, tab: t.name, section: null })}>
          {t.title}
        </Menu.Item>
      ))}
    </>
  );
}
