import { ActionIcon, Button } from '@mantine/core';
import { X } from 'lucide-react';
import { lazy, Suspense } from 'react';
import type { DashboardPage, TileInfo } from '../api/client';
import type { Settings } from '../model/parameters';
import { fieldsOf, hasPick, mayFilter, pathLabels, selectionLabels } from '../model/selections';
import classes from './dashboard.module.css';
import type { Picked } from './useSelections';

// Its lists and entries come apart from the shell.
const ParameterControl = lazy(() => import('./ParameterControl').then((m) => ({ default: m.ParameterControl })));

interface Props {
  page: DashboardPage;
  open: string;
  picked: Picked;
  set: Settings;
  /** Of each tile what is picked on it and has no rows now, as texts. */
  gone: Record<string, Set<string>>;
  onSet: (set: Settings) => void;
  onClear: () => void;
  /** Keeps what is picked and set for the next visit, or forgets it. */
  onKeep: (asNow: boolean) => void;
}

/** All that is set and picked, with where it comes from: no filter acts unseen. */
export function FilterBar({ page, open, picked: state, set, gone, onSet, onClear, onKeep }: Props) {
  const { selections, isWaiting } = state;
  const picked = page.tabs.flatMap((tab) =>
    tab.tiles.flatMap((tile) => {
      const selection = selections[tile.name];
      return selection ? [{ tab, tile, selection }] : [];
    }),
  );
  // What only changes how tiles are drawn stands where it does, and so does what changes rows.
  const here = (page.tabs.find((t) => t.name === open)?.tiles ?? []).filter((t) => !t.hidden);
  const drawn = new Set(here.flatMap((t) => t.uses));
  const asked = new Set(here.map((t) => t.datasetName));
  const parameters = page.parameters.filter((p) =>
    p.presents ? drawn.has(p.name) : p.datasets.some((d) => asked.has(d)),
  );
  const tabs = new Map(page.tabs.flatMap((t) => t.tiles.map((x) => [x.name, t.name])));
  const groups = new Map(page.tabs.flatMap((t) => t.groups).map((g) => [g.name, g]));
  const actsHere = (tile: TileInfo) =>
    here.some((other) => other.datasetName && mayFilter(tile, other, (name) => tabs.get(name) ?? '', groups));
  // Something to clear is there where the state is another than that in which the dashboard opens.
  const keeps = page.view.keeps !== null;
  const isOther = state.write(selections) !== null || !state.isSetAsOpened;
  return (
    <section className={classes.filters} aria-label="What is picked">
      <Suspense>
        {parameters.map((p) => (
          <ParameterControl
            key={p.name}
            dashboard={page.name}
            parameter={p}
            values={set[p.name] ?? p.opening}
            onChange={(values) => onSet({ ...set, [p.name]: values })}
          />
        ))}
      </Suspense>
      <div className={classes.picks}>
        {picked.length === 0 && (
          <span className="quiet">
            Nothing is picked. Click a bar, a slice, a cell or a row to look closer; what you pick lasts for this visit.
          </span>
        )}
        {picked.length > 0 && (
          <div className={classes.chips} role="group" aria-label="Picks" tabIndex={0}>
            {picked.map(({ tab, tile, selection }) => {
              const level = fieldsOf(tile, selection);
              const within = tile.pathDrives ? pathLabels(tile, selection) : [];
              const members = [
                ...(within.length > 0 ? [`${hasPick(selection) ? 'within ' : ''}${within.join(' › ')}`] : []),
                ...selectionLabels(selection, level, gone[tile.name]),
              ];
              // A level that is open and drives nothing is the tile's own matter; it says so itself.
              if (members.length === 0) return null;
              const named = hasPick(selection) ? level : tile.levels.slice(0, within.length);
              const fields = named.map((f) => f.title).join(' and ');
              const idle = !actsHere(tile);
              const where = [
                tab.name !== open ? `tab ${tab.title}` : tile.hidden ? 'hidden' : '',
                idle ? 'filters nothing on this tab' : '',
              ]
                .filter(Boolean)
                .join(', ');
              return (
                <span key={tile.name} className={classes.chip} data-idle={idle}>
                  <span className={classes.chipText} title={members.join(', ')}>
                    <b>{fields}:</b> {members.slice(0, 3).join(', ')}
                    {members.length > 3 && ` and ${members.length - 3} more`}
                    <span className={classes.from}>
                      {' '}
                      from {tile.title}
                      {where && ` (${where})`}
                    </span>
                  </span>
                  {!tile.isRequired && (
                    <ActionIcon
                      size="sm"
                      variant="subtle"
                      aria-label={`Clear ${fields}: ${members.join(', ')}`}
                      onClick={() => state.select(tile.name, undefined)}
                    >
                      <X size={14} aria-hidden />
                    </ActionIcon>
                  )}
                </span>
              );
            })}
          </div>
        )}
        {isWaiting && (
          <>
            <Button size="compact-xs" onClick={state.apply}>
              Apply
            </Button>
            <Button size="compact-xs" variant="default" onClick={state.discard}>
              Discard
            </Button>
            <span className="quiet" role="status">
              What you picked filters nothing until you apply it.
            </span>
          </>
        )}
        {isOther && !isWaiting && (
          <Button
            size="compact-xs"
            variant="subtle"
            title={
              keeps ? 'Back to what you keep' : page.hasOpening ? 'Back to what this dashboard opens with' : undefined
            }
            onClick={onClear}
          >
            Clear all
          </Button>
        )}
        {isOther && !isWaiting && (
          <Button
            size="compact-xs"
            variant="subtle"
            aria-label="Keep for next time"
            title="Keep for next time, in your own view: this dashboard opens for you as it is now"
            onClick={() => onKeep(true)}
          >
            Keep
          </Button>
        )}
        {keeps && !isOther && (
          <span className="quiet">
            Kept in your view.{' '}
            <Button
              size="compact-xs"
              variant="subtle"
              title="This dashboard opens for you as its developer has it open"
              onClick={() => onKeep(false)}
            >
              Forget
            </Button>
          </span>
        )}
      </div>
      {state.dropped.map((sentence) => (
        <span key={sentence} className="quiet" role="status">
          {sentence}
        </span>
      ))}
    </section>
  );
}
