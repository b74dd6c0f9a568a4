import { Button } from '@mantine/core';
import { X } from 'lucide-react';
import { lazy, memo, Suspense, useMemo } from 'react';
import type { TabInfo, TileInfo } from '../api/client';
import { IconButton } from '../look/IconButton';
import { useRested } from '../look/useRested';
import { pickedWithoutRows } from '../model/page/figures';
import { isOtherThanOpened, settingsText } from '../model/page/picks';
import { knownSettings, readSettings } from '../model/parameters';
import { fieldsOf, hasPick, pathLabels, type Selection, selectionLabels } from '../model/selections';
import { wiringOf } from '../model/wiring';
import classes from './dashboard.module.css';
import { useDispatch, usePage } from './usePage';

// Its lists and entries come apart from the shell.
const ParameterControl = lazy(() => import('./ParameterControl').then((m) => ({ default: m.ParameterControl })));

/** Holds the place of a parameter's control: a bar that grew would move the tiles away under a pointer. */
const Coming = ({ title }: { title: string }) => (
  <span className={classes.parameter} aria-hidden>
    <span className="quiet">{title}</span>
    <span className={classes.coming} />
  </span>
);

/** All that is set and picked, with where it comes from: no filter acts unseen. */
export function FilterBar() {
  const page = usePage((s) => s.page);
  const dropped = usePage((s) => s.dropped);
  const isWaiting = usePage((s) => s.draft !== undefined || s.draftSet !== undefined);
  const isOther = usePage(isOtherThanOpened);
  // Something to clear is there where the state is another than that in which the dashboard opens.
  const keeps = page.view.keeps !== null;
  return (
    <section className={classes.filters} aria-label="What is picked">
      <Parameters />
      <div className={classes.picks}>
        <Picks />
        {isWaiting && <Waiting />}
        {isOther && !isWaiting && <Acts keeps={keeps} hasOpening={page.hasOpening} mayArrange={page.mayArrange} />}
        {keeps && !isOther && page.mayArrange && <Kept />}
      </div>
      {dropped.map((sentence) => (
        <span key={sentence} className="quiet" role="status">
          {sentence}
        </span>
      ))}
    </section>
  );
}

/** The parameters that matter to what is seen. */
function Parameters() {
  const dispatch = useDispatch();
  const page = usePage((s) => s.page);
  const here = usePage((s) => s.shown);
  const text = usePage(settingsText);
  const set = useMemo(() => knownSettings(readSettings(text), page.parameters), [text, page]);
  // What only changes how tiles are drawn stands where it does, and so does what changes rows.
  const drawn = new Set(here.flatMap((t) => t.uses));
  const asked = new Set(here.map((t) => t.datasetName));
  const parameters = page.parameters.filter((p) =>
    p.presents ? drawn.has(p.name) : p.datasets.some((d) => asked.has(d)),
  );
  return (
    <Suspense fallback={parameters.map((p) => <Coming key={p.name} title={p.title} />)}>
      {parameters.map((p) => (
        <ParameterControl
          key={p.name}
          dashboard={page.name}
          parameter={p}
          values={set[p.name] ?? p.opening}
          onChange={(values) => dispatch({ type: 'set', set: { ...set, [p.name]: values } })}
        />
      ))}
    </Suspense>
  );
}

/** What is picked on each tile, also on those that are not seen. */
function Picks() {
  const page = usePage((s) => s.page);
  const here = usePage((s) => s.shown);
  const selections = usePage((s) => s.selections);
  const tiles = usePage((s) => s.tiles);
  const gone = useMemo(() => pickedWithoutRows(here, selections, tiles), [here, selections, tiles]);
  const picked = page.tabs.flatMap((tab) =>
    tab.tiles.flatMap((tile) => {
      const selection = selections[tile.name];
      return selection ? [{ tab, tile, selection }] : [];
    }),
  );
  if (picked.length === 0)
    return (
      <span className="quiet">
        Nothing is picked. Click a bar, a slice, a cell or a row to look closer; what you pick lasts for this visit.
      </span>
    );
  return (
    <div className={classes.chips} role="group" aria-label="Picks" tabIndex={0}>
      {picked.map(({ tab, tile, selection }) => (
        <Chip key={tile.name} tab={tab} tile={tile} selection={selection} gone={gone[tile.name]} />
      ))}
    </div>
  );
}

interface ChipProps {
  tab: TabInfo;
  tile: TileInfo;
  selection: Selection;
  /** Members that have no rows now, as JSON texts. */
  gone: Set<string> | undefined;
}

/** What is picked on a tile, in words, with where that is and whether it filters anything here. */
function Chip({ tab, tile, selection, gone }: ChipProps) {
  const open = usePage((s) => s.tab?.name ?? '');
  const isIdle = usePage((s) => s.shown.every((other) => !other.datasetName || !wiringOf(s.page).filters(tile, other)));
  const isMoving = usePage((s) => s.live !== undefined);
  const level = fieldsOf(tile, selection);
  const within = tile.pathDrives ? pathLabels(tile, selection) : [];
  const members = [
    ...(within.length > 0 ? [`${hasPick(selection) ? 'within ' : ''}${within.join(' › ')}`] : []),
    ...selectionLabels(selection, level, gone),
  ];
  // A level that is open and drives nothing is the tile's own matter; it says so itself.
  if (members.length === 0) return null;
  const named = hasPick(selection) ? level : tile.levels.slice(0, within.length);
  const fields = named.map((f) => f.title).join(' and ');
  const where = [
    tab.name !== open ? `tab ${tab.title}` : tile.hidden ? 'hidden' : '',
    isIdle ? 'filters nothing on this tab' : '',
  ]
    .filter(Boolean)
    .join(', ');
  return (
    <span className={classes.chip} data-idle={isIdle}>
      <span className={classes.chipText} title={members.join(', ')}>
        <b>{fields}:</b> {members.slice(0, 3).join(', ')}
        {members.length > 3 && ` and ${members.length - 3} more`}
        <span className={classes.from}>
          {' '}
          from {tile.title}
          {where && ` (${where})`}
        </span>
      </span>
      {!tile.isRequired && <Clear tile={tile.name} what={`${fields}: ${members.join(', ')}`} isMoving={isMoving} />}
    </span>
  );
}

function Waiting() {
  const dispatch = useDispatch();
  return (
    <>
      <Button size="compact-xs" onClick={() => dispatch({ type: 'apply' })}>
        Apply
      </Button>
      <Button size="compact-xs" variant="default" onClick={() => dispatch({ type: 'discard' })}>
        Discard
      </Button>
      <span className="quiet" role="status">
        What you picked filters nothing until you apply it.
      </span>
    </>
  );
}

function Kept() {
  const dispatch = useDispatch();
  return (
    <span className="quiet">
      Kept in your view.{' '}
      <Button
        size="compact-xs"
        variant="subtle"
        title="This dashboard opens for you as its developer has it open"
        onClick={() => dispatch({ type: 'keep', isAsNow: false })}
      >
        Forget
      </Button>
    </span>
  );
}

/** Takes a pick away. What it is called is read aloud, so it follows when the hand rests. */
function Clear({ tile, what, isMoving }: { tile: string; what: string; isMoving: boolean }) {
  return <ClearButton tile={tile} what={useRested(what, isMoving)} />;
}

const ClearButton = memo(function ClearButton({ tile, what }: { tile: string; what: string }) {
  const dispatch = useDispatch();
  return (
    <IconButton aria-label={`Clear ${what}`} onClick={() => dispatch({ type: 'pick', tile, selection: undefined })}>
      <X size={14} aria-hidden />
    </IconButton>
  );
});

/** What can be done with a state that is another than that in which the dashboard opens. */
const Acts = memo(function Acts(props: { keeps: boolean; hasOpening: boolean; mayArrange: boolean }) {
  const dispatch = useDispatch();
  const back = props.hasOpening ? 'Back to what this dashboard opens with' : undefined;
  return (
    <>
      <Button
        size="compact-xs"
        variant="subtle"
        title={props.keeps ? 'Back to what you keep' : back}
        onClick={() => dispatch({ type: 'clear' })}
      >
        Clear all
      </Button>
      {props.mayArrange && (
        <Button
          size="compact-xs"
          variant="subtle"
          aria-label="Keep for next time"
          title="Keep for next time, in your own view: this dashboard opens for you as it is now"
          onClick={() => dispatch({ type: 'keep', isAsNow: true })}
        >
          Keep
        </Button>
      )}
    </>
  );
});
