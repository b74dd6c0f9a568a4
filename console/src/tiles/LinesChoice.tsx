import { Popover } from '@mantine/core';
import type { ReactNode } from 'react';
import type { TileInfo } from '../api/client';
import { LinesActs } from '../arrange/LinesActs';
import classes from './tiles.module.css';
import '../look/panels.css';

/** What is done to the lines of a table, open at its mark. */
export default function LinesChoice({
  tile,
  words,
  onClose,
}: {
  tile: TileInfo;
  words: ReactNode;
  onClose: () => void;
}) {
  return (
    <Popover opened onChange={onClose} position="bottom-end" withinPortal withRoles={false} trapFocus returnFocus>
      <Popover.Target>
        <button type="button" className={classes.markButton} aria-haspopup="dialog" aria-expanded onClick={onClose}>
          {words}
        </button>
      </Popover.Target>
      <Popover.Dropdown
        className={classes.linesChoice}
        role="dialog"
        aria-label={`Lines of ${tile.title}`}
        onKeyDown={(e) => e.key === 'Escape' && e.stopPropagation()}
      >
        <LinesActs tile={tile} onDone={onClose} />
      </Popover.Dropdown>
    </Popover>
  );
}
