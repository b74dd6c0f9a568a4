import { Alert, Button, Checkbox, Drawer, MultiSelect, NumberInput, Select, Switch } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Schemas, unwrap } from '../api/client';
import { useDispatch, usePage } from '../dashboard/usePage';
import { drawnOtherwise, hiddenIn, isHiddenForVisit } from '../model/page/hidden';
import { presentOf } from '../model/parameters';
import { wiringOf } from '../model/wiring';
import { pictureOf } from '../pictures';
import classes from './arrange.module.css';
import { LinesActs } from './LinesActs';
import '@mantine/core/styles/Alert.css';
import '@mantine/core/styles/NumberInput.css';
import '@mantine/core/styles/Switch.css';
import '../look/panels.css';

type Drawing = Schemas['Drawing'];
type Choices = Schemas['DrawingChoices'];

/** How a tile is drawn, to be changed for this visit and kept, or taken back. */
export default function RedrawPanel({ tile: name }: { tile: string }) {
  const dispatch = useDispatch();
  const page = usePage((s) => s.page);
  const present = usePage((s) => presentOf(s.address.set ?? s.own?.set ?? null, s.page));
  const tile = wiringOf(page).named.get(name);
  const { view } = page.view;
  const choices = useQuery({
    queryKey: ['drawings', page.name, page.version, view, name, present, page.view.canUndo],
    queryFn: () =>
      unwrap(
        api.GET('/api/dashboards/{dashboard}/tiles/{tile}/drawings', {
          params: { path: { dashboard: page.name, tile: name }, query: { view, ...(present ? { set: present } : {}) } },
        }),
      ),
    placeholderData: (before) => before,
  });
  const close = () => dispatch({ type: 'redraw' });
  return (
    <Drawer
      opened
      onClose={close}
      position="right"
      size={420}
      title={`Draw ${tile?.title ?? 'a tile'} otherwise`}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {choices.error && <p role="alert">{choices.error.message}</p>}
      {choices.data && tile && <Form choices={choices.data} tile={tile} key={name} />}
    </Drawer>
  );
}

function Form({ choices, tile }: { choices: Choices; tile: Schemas['TileInfo'] }) {
  const { draft, kind, change } = useDraft(choices, tile);
  const hidden = usePage((s) => hiddenIn(s, tile));
  const refused = usePage((s) => s.page.view.dropped);
  const lack = kind && lacking(draft, kind);
  return (
    <div className={classes.panelForm}>
      <div className={classes.kinds} role="group" aria-label="Kind of picture">
        {choices.kinds.map((k) => (
          <button
            key={k.name}
            type="button"
            className={classes.kind}
            aria-pressed={k.name === draft.picture}
            onClick={() => change({ picture: k.name, ...fitted(draft, k) })}
          >
            {k.name}
            {k.unfit && k.name !== draft.picture && <small>{k.unfit}</small>}
          </button>
        ))}
      </div>
      {kind && <Slots choices={choices} draft={draft} kind={kind} onChange={change} />}
      {lack && <Alert color="orange">{lack} Until then it stays as it is.</Alert>}
      {refused.map((sentence) => (
        <Alert key={sentence} color="orange">
          {sentence}
        </Alert>
      ))}
      {hidden.length > 0 && (
        <p>
          Hidden by the legend: {hidden.slice(0, 5).join(', ')}
          {hidden.length > 5 && ` and ${hidden.length - 5} more`}.
        </p>
      )}
      <Keeping tile={tile} hidden={hidden} drawing={kind && difference(draft, choices.defined, kind)} />
      {pictureOf(tile).hasLines && <LinesActs tile={tile} />}
    </div>
  );
}

/** What the form says, and a change of it: drawn so at once, for this visit, as soon as nothing is wanting. */
function useDraft(choices: Choices, tile: Schemas['TileInfo']) {
  const dispatch = useDispatch();
  const [draft, setDraft] = useState<Drawing>(choices.now);
  const [of, setOf] = useState(choices.now);
  // What came from elsewhere, such as going back, is what the form goes on from.
  if (JSON.stringify(of) !== JSON.stringify(choices.now)) {
    setOf(choices.now);
    setDraft(choices.now);
  }
  const kindOf = (drawing: Drawing) => choices.kinds.find((k) => k.name === drawing.picture);
  const change = (part: Partial<Drawing>) => {
    const next = { ...draft, ...part };
    setDraft(next);
    const kind = kindOf(next);
    if (kind && !lacking(next, kind))
      dispatch({ type: 'draw', tile: tile.name, drawing: difference(next, choices.defined, kind) });
  };
  return { draft, kind: kindOf(draft), change };
}

/** What a kind of picture shows, by what, in which order, and how much of it. */
function Slots({
  choices,
  draft,
  kind,
  onChange,
}: {
  choices: Choices;
  draft: Drawing;
  kind: Schemas['KindChoice'];
  onChange: (part: Partial<Drawing>) => void;
}) {
  const show = draft.show ?? [];
  const by = draft.by ?? [];
  const measures = choices.measures.map((m) => ({ value: m.name, label: m.title }));
  const fields = choices.fields.flatMap((f) =>
    f.grains.length > 0
      ? f.grains.map((g) => ({ value: `${f.name}.${g.value}`, label: `${f.title}: ${g.title}` }))
      : [{ value: f.name, label: f.title }],
  );
  const sorts = [...measures.filter((m) => show.includes(m.value)), ...fields.filter((f) => by.includes(f.value))];
  return (
    <>
      {kind.mostShow > 0 && (
        <MultiSelect
          label="Shows"
          data={measures}
          value={show}
          maxValues={kind.mostShow}
          searchable
          onChange={(v) => onChange({ show: v })}
        />
      )}
      {kind.mostBy > 0 && (
        <MultiSelect
          label="By"
          data={fields}
          value={by}
          maxValues={kind.mostBy}
          searchable
          onChange={(v) => onChange({ by: v })}
        />
      )}
      {kind.canSplit && (
        <Select
          label="Split by"
          placeholder="Nothing"
          data={fields}
          value={draft.split || null}
          clearable
          searchable
          onChange={(v) => onChange({ split: v ?? '' })}
        />
      )}
      {kind.canSort && <Order draft={draft} sorts={sorts} onChange={onChange} />}
      {kind.canTop && <Leading draft={draft} onChange={onChange} />}
    </>
  );
}

interface PartProps {
  draft: Drawing;
  onChange: (part: Partial<Drawing>) => void;
}

const Order = ({ draft, sorts, onChange }: PartProps & { sorts: { value: string; label: string }[] }) => (
  <>
    <Select
      label="In the order of"
      placeholder="Its own order"
      data={sorts}
      value={sorts.some((s) => s.value === draft.sort) ? (draft.sort ?? null) : null}
      clearable
      onChange={(v) => onChange({ sort: v ?? '' })}
    />
    {draft.sort && (
      <Switch
        label="Greatest first"
        checked={draft.descending}
        onChange={(e) => onChange({ descending: e.currentTarget.checked })}
      />
    )}
  </>
);

const Leading = ({ draft, onChange }: PartProps) => (
  <>
    <NumberInput
      label="Only the leading"
      placeholder="All"
      min={1}
      max={1000}
      allowDecimal={false}
      value={draft.top || ''}
      onChange={(v) => onChange({ top: typeof v === 'number' ? v : 0 })}
    />
    {draft.top ? (
      <Checkbox
        label="Gather the others into one"
        checked={draft.rest}
        onChange={(e) => onChange({ rest: e.currentTarget.checked })}
      />
    ) : null}
  </>
);

/** For how long it is drawn so, and the ways to keep it and to go back. @param drawing How it is drawn; undefined for a kind that is not there. */
function Keeping({
  tile,
  hidden,
  drawing,
}: {
  tile: Schemas['TileInfo'];
  hidden: readonly string[];
  drawing: Partial<Drawing> | undefined;
}) {
  const dispatch = useDispatch();
  const mayKeep = usePage((s) => s.page.mayArrange);
  const drawn = usePage((s) => drawnOtherwise(s, tile));
  const isHiddenAnew = usePage((s) => isHiddenForVisit(s, tile));

  function keep() {
    const kept = { ...drawing, ...(hidden.length > 0 ? { without: hidden } : {}) } as Drawing;
    if (drawing) dispatch({ type: 'edit', edit: { edit: 'draw', tile: tile.name, drawing: kept } });
    dispatch({ type: 'redraw' });
  }

  function leave() {
    dispatch({ type: 'hide series', tile: tile.name });
    if (!isHiddenAnew || tile.drawn === 'visit') dispatch({ type: 'draw', tile: tile.name });
  }

  /** As its developer has it: in the view where that has it otherwise and may be changed, else for the visit. */
  function restore() {
    dispatch({ type: 'hide series', tile: tile.name, ...(tile.without.length > 0 ? { names: [] } : {}) });
    if (tile.drawnInView && mayKeep) dispatch({ type: 'edit', edit: { edit: 'draw', tile: tile.name, drawing: null } });
    else dispatch({ type: 'draw', tile: tile.name, drawing: tile.drawnInView ? {} : undefined });
  }

  return (
    <>
      <p className="quiet" role="status">
        {drawn === 'visit'
          ? 'Drawn so for this visit.'
          : drawn === 'view'
            ? 'Drawn so in your view.'
            : 'Drawn as it was defined.'}
      </p>
      {drawn === 'visit' && mayKeep && <Button onClick={keep}>Keep in my view</Button>}
      {drawn === 'visit' && tile.drawnInView && (
        <Button variant="default" onClick={leave}>
          Back to how my view has it
        </Button>
      )}
      {drawn !== null && (
        <Button variant="default" onClick={restore}>
          As it was defined
        </Button>
      )}
    </>
  );
}

/** What a drawing lacks to be one of its kind. */
function lacking(drawing: Drawing, kind: Schemas['KindChoice']): string | undefined {
  const [show, by] = [drawing.show?.length ?? 0, drawing.by?.length ?? 0];
  if (show < kind.leastShow) return `A ${kind.name} shows at least ${kind.leastShow}.`;
  if (by < kind.leastBy) return `A ${kind.name} is by at least ${kind.leastBy}.`;
  return undefined;
}

/** What another kind takes of a drawing. */
const fitted = (drawing: Drawing, kind: Schemas['KindChoice']): Partial<Drawing> => ({
  show: drawing.show?.slice(0, kind.mostShow),
  by: drawing.by?.slice(0, kind.mostBy),
  split: kind.canSplit ? drawing.split : '',
});

/** Only what differs from how the tile is defined: what its developer changes later comes in. */
function difference(next: Drawing, defined: Drawing, kind: Schemas['KindChoice']): Partial<Drawing> {
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
  return {
    ...(next.picture === defined.picture ? {} : { picture: next.picture }),
    ...(same(next.show, defined.show) ? {} : { show: next.show }),
    ...(same(next.by, defined.by) ? {} : { by: next.by }),
    ...(next.split === defined.split ? {} : { split: next.split }),
    ...(kind.canSort && (next.sort !== defined.sort || next.descending !== defined.descending)
      ? { sort: next.sort, descending: next.descending }
      : {}),
    ...(kind.canTop && (next.top !== defined.top || next.rest !== defined.rest)
      ? { top: next.top, rest: next.rest }
      : {}),
  };
}
