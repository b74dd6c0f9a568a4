import { ActionIcon, Button } from '@mantine/core';
import { X } from 'lucide-react';
import { lazy, Suspense } from 'react';
import type { DashboardPage } from '../api/client';
import classes from './dashboard.module.css';
import type { Settings } from './parameters';
import { fieldsOf, hasPick, pathLabels, type Selection, type Selections, selectionLabels } from './selections';

// Its lists and entries come apart from the shell.
const ParameterControl = lazy(() => import('./ParameterControl').then((m) => ({ default: m.ParameterControl })));

interface Props {
  page: DashboardPage;
  open: string;
  selections: Selections;
  /** How many selections of the address this viewer's dashboard has no tile for. */
  dropped: number;
  set: Settings;
  onSelect: (tile: string, selection: Selection | undefined) => void;
  onSet: (set: Settings) => void;
  onClear: () => void;
}

/** All that is set and picked, with where it comes from: no filter acts unseen. */
export function FilterBar({ page, open, selections, dropped, set, onSelect, onSet, onClear }: Props) {
  const picked = page.tabs.flatMap((tab) =>
    tab.tiles.flatMap((tile) => {
      const selection = selections[tile.name];
      return selection ? [{ tab, tile, selection }] : [];
    }),
  );
  return (
    <section className={classes.filters} aria-label="What is picked">
      <Suspense>
        {page.parameters.map((p) => (
          <ParameterControl
            key={p.name}
            dashboard={page.name}
            parameter={p}
            values={set[p.name] ?? p.opening}
            onChange={(values) => onSet({ ...set, [p.name]: values })}
          />
        ))}
      </Suspense>
      {picked.length === 0 && (
        <span className="quiet">
          Nothing is picked. Click a bar, a slice, a cell or a row to look closer; what you pick lasts for this visit.
        </span>
      )}
      {picked.map(({ tab, tile, selection }) => {
        const level = fieldsOf(tile, selection);
        const within = tile.pathDrives ? pathLabels(tile, selection) : [];
        const members = [
          ...(within.length > 0 ? [`${hasPick(selection) ? 'within ' : ''}${within.join(' › ')}`] : []),
          ...selectionLabels(selection, level),
        ];
        // A level that is open and drives nothing is the tile's own matter; it says so itself.
        if (members.length === 0) return null;
        const named = hasPick(selection) ? level : tile.levels.slice(0, within.length);
        const fields = named.map((f) => f.title).join(' and ');
        const where = tab.name !== open ? `tab ${tab.title}` : tile.hidden ? 'hidden' : '';
        return (
          <span key={tile.name} className={classes.chip}>
            <span className={classes.chipText} title={members.join(', ')}>
              <b>{fields}:</b> {members.slice(0, 3).join(', ')}
              {members.length > 3 && ` and ${members.length - 3} more`}
              <span className={classes.from}>
                {' '}
                from {tile.title}
                {where && ` (${where})`}
              </span>
            </span>
            <ActionIcon
              size="sm"
              variant="subtle"
              aria-label={`Clear ${fields}: ${members.join(', ')}`}
              onClick={() => onSelect(tile.name, undefined)}
            >
              <X size={14} aria-hidden />
            </ActionIcon>
          </span>
        );
      })}
      {(picked.length > 0 || Object.keys(set).length > 0) && (
        <Button size="compact-xs" variant="subtle" onClick={onClear}>
          Clear all
        </Button>
      )}
      {dropped > 0 && (
        <span className="quiet" role="status">
          {dropped === 1 ? 'One selection' : `${dropped} selections`} of this link {dropped === 1 ? 'was' : 'were'} left
          out: the tile is not here or not yours.
        </span>
      )}
    </section>
  );
}
