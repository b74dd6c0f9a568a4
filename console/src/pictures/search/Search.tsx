import '../parts/controls.css';
import { TextInput } from '@mantine/core';
import { useEffect, useState } from 'react';
import classes from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';

/** Members that contain a piece of text; taken over when typing pauses. */
export default function SearchPicture({ tile, result, selection, onSelect }: PictureProps) {
  const [typed, setTyped] = useState(selection?.contains ?? '');
  useEffect(() => setTyped(selection?.contains ?? ''), [selection?.contains]);
  useEffect(() => {
    const piece = typed.trim();
    if (piece === (selection?.contains ?? '')) return;
    const timer = setTimeout(() => onSelect(piece ? { members: [], contains: piece } : undefined), 300);
    return () => clearTimeout(timer);
  }, [typed, selection?.contains, onSelect]);
  const members = Number(result.table.values[0]?.[0] ?? 0);
  return (
    <TextInput
      className={classes.control}
      size="sm"
      maxLength={200}
      aria-label={tile.title}
      placeholder={`Search ${members.toLocaleString('en-US')} member${members === 1 ? '' : 's'}`}
      value={typed}
      onChange={(e) => setTyped(e.currentTarget.value)}
    />
  );
}
