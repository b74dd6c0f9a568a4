import '../parts/controls.css';
import { Switch } from '@mantine/core';
import { isPicked } from '../../model/selections';
import classes from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';

/** Only rows where it holds, or all. */
export default function SwitchPicture({ tile, selection, onSelect }: PictureProps) {
  const only = isPicked(selection, [true]);
  return (
    <Switch
      className={classes.control}
      size="sm"
      label={only ? 'Only these' : 'All'}
      aria-label={tile.title}
      checked={only}
      onChange={(e) => onSelect(e.currentTarget.checked ? { members: [[true]] } : undefined)}
    />
  );
}
