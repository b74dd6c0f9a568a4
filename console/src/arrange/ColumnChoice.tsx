import { Menu } from '@mantine/core';
import { Columns3 } from 'lucide-react';
import type { Schemas, TabInfo } from '../api/client';
import { useDispatch } from '../dashboard/usePage';
import { IconButton } from '../look/IconButton';
import classes from './arrange.module.css';

/** How many columns tiles can flow into. */
const numbers = [1, 2, 3, 4];

/** The numbers of columns, as items of a menu. */
export const ColumnItems = ({ onChoose }: { onChoose: (columns: number) => void }) => (
  <div className={classes.columns}>
    {numbers.map((n) => (
      <Menu.Item key={n} aria-label={n === 1 ? 'In one column' : `In ${n} columns`} onClick={() => onChoose(n)}>
        {n}
      </Menu.Item>
    ))}
  </div>
);

/** Has the tiles of a section flow into columns. */
export function SectionColumns({ tab, section }: { tab: TabInfo; section: Schemas['SectionInfo'] }) {
  const dispatch = useDispatch();
  return (
    <Menu position="bottom-start" withinPortal>
      <Menu.Target>
        <IconButton aria-label={`Columns of the section ${section.title}`}>
          <Columns3 size={14} aria-hidden />
        </IconButton>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>Its tiles in columns</Menu.Label>
        <ColumnItems
          onChoose={(columns) =>
            dispatch({ type: 'edit', edit: { edit: 'columns', tab: tab.name, columns, section: section.name } })
          }
        />
      </Menu.Dropdown>
    </Menu>
  );
}
