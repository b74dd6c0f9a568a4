import { Menu } from '@mantine/core';
import { EllipsisVertical } from 'lucide-react';
import { lazy } from 'react';
import type { TileInfo } from '../api/client';
import { drafted } from '../api/draft';
import { useDispatch, usePage } from '../dashboard/usePage';
import { OpenedMenu } from '../look/OpenedMenu';
import { largeOf } from '../model/page/large';
import { fieldsOf, hasPick, inverted, memberLabel, open, type Selection } from '../model/selections';
import { pictureOf } from '../pictures';
import classes from './tiles.module.css';
import { usePick } from './usePick';

const ArrangeItems = lazy(() => import('../arrange/ArrangeItems'));

const timeOf = (at: Date) => at.toLocaleTimeString('en-GB');

/** When a tile is read again next; undefined for one that is read when somebody wants it. */
function dueOf(seconds: number | string | null, since: number | undefined): number | undefined {
  if (seconds === null || since === undefined) return undefined;
  const step = Number(seconds) * 1000;
  return since + Math.ceil((Date.now() - since) / step) * step;
}

/** What can be done with a tile. */
export default function TileMenu({ tile, readAt }: { tile: TileInfo; readAt?: string }) {
  const dispatch = useDispatch();
  const selection = usePage((s) => s.selections[tile.name]);
  const arranging = usePage((s) => s.isArranging);
  const large = usePage((s) => largeOf(s) === tile.name);
  const mayExport = usePage((s) => s.page.mayExport);
  const since = usePage((s) => s.rhythmSince);
  const due = dueOf(tile.refreshSeconds, since);
  const onSelect = usePick(tile);
  const isPicked = hasPick(selection);
  const only =
    isPicked && !selection?.exclude && !selection?.restOf && !selection?.range && selection?.members.length === 1
      ? selection.members[0]
      : undefined;
  const next = tile.levels[(selection?.path?.length ?? 0) + 1];
  const name = only ? memberLabel(only, fieldsOf(tile, selection)) : '';
  return (
    <OpenedMenu
      label={`Menu of ${tile.title}`}
      icon={<EllipsisVertical size={15} aria-hidden />}
      className={classes.menu}
      position="bottom-end"
    >
      {readAt && (
        <Menu.Label>
          Data read at {timeOf(new Date(readAt))}
          {due !== undefined && `, again at ${timeOf(new Date(due))}`}
        </Menu.Label>
      )}
      {tile.dataset && (
        <Menu.Item onClick={() => dispatch({ type: 'explain', tile: tile.name })}>Where this comes from</Menu.Item>
      )}
      {tile.may.includes('draw') && (
        <Menu.Item onClick={() => dispatch({ type: 'redraw', tile: tile.name })}>Draw otherwise</Menu.Item>
      )}
      {!arranging && !tile.isInPanel && (
        <Menu.Item onClick={() => dispatch({ type: 'enlarge', tile: large ? null : tile.name })}>
          {large ? 'Back to all tiles' : 'Enlarge'}
        </Menu.Item>
      )}
      {tile.mayDetail && !pictureOf(tile).isControl && (
        <Menu.Item onClick={() => dispatch({ type: 'list rows', tile: tile.name })}>
          {only ? `Rows behind ${name}` : 'Rows behind this'}
        </Menu.Item>
      )}
      {mayExport && !arranging && (tile.dataset || tile.file || tile.text) && (
        <Menu.Item onClick={() => dispatch({ type: 'take along', what: { tile: tile.name } })}>
          Take along as a file
        </Menu.Item>
      )}
      {!arranging && drafted === undefined && (
        <Menu.Item onClick={() => dispatch({ type: 'remark', what: { tile: tile.name } })}>Write about it</Menu.Item>
      )}
      {only && next && (
        <Menu.Item onClick={() => onSelect(open({ ...(selection as Selection), members: [] }, only[0] ?? null))}>
          Open {name} by {next.title.toLowerCase()}
        </Menu.Item>
      )}
      {isPicked && tile.pick !== 'one' && selection && (
        <Menu.Item onClick={() => onSelect(inverted(selection))}>
          {selection.exclude ? 'Only what is picked' : 'All but what is picked'}
        </Menu.Item>
      )}
      {isPicked && selection && (
        <Menu.Item
          onClick={() =>
            onSelect(selection.path ? { members: [], path: selection.path, kept: selection.kept } : undefined)
          }
        >
          Clear what is picked here
        </Menu.Item>
      )}
      {arranging && <ArrangeItems tile={tile} />}
    </OpenedMenu>
  );
}
