import { Checkbox, MultiSelect, NumberInput, Select } from '@mantine/core';
import '@mantine/core/styles/NumberInput.css';
import classes from './design.module.css';
import { type Designing, useDesign } from './useDesign';
import {
  change,
  type Dataset,
  isDate,
  kindOf,
  membersOf,
  names,
  notBy,
  type Picture,
  pathOf,
  put,
  relist,
  titleOf,
  type WrittenTile,
  word,
} from './written';

interface SentenceProps {
  tile: WrittenTile;
  dataset: Dataset | undefined;
  picture: Picture | undefined;
  onKind: (name: string) => void;
}

/** The sentence: each place takes what fits it, and says why the rest does not. */
export function Sentence({ tile, dataset, picture, onKind }: SentenceProps) {
  const design = useDesign() as Designing;
  const { says } = tile;
  const [show, by] = [names(says.show), names(says.by)];
  const takes = (key: string) => picture?.ofMembers.some((m) => m.name === key) ?? false;
  const measures = (dataset?.measures ?? []).map((m) => ({ value: m.name, label: m.title }));
  return (
    <div className={classes.sentence}>
      <Select
        label="draws"
        searchable
        data={design.pictures.map((p) => ({ value: p.name, label: p.name.replaceAll('_', ' ') }))}
        value={picture?.name ?? null}
        onChange={(v) => v && onKind(v)}
        allowDeselect={false}
      />
      {picture?.hasData !== false && (
        <Select
          label="of"
          searchable
          data={withPresent(
            design.datasets.map((d) => ({ value: d.name, label: d.title })),
            names(says.dataset),
          )}
          value={word(says.dataset) ?? null}
          onChange={(v) => v && void design.take(change(tile, 'dataset', v))}
          allowDeselect={false}
        />
      )}
      {(picture === undefined || picture.show.most > 0) && (
        <MultiSelect
          label="shows"
          placeholder={show.length === 0 ? 'a measure' : ''}
          searchable
          hidePickedOptions
          maxValues={picture?.show.most}
          data={withPresent(measures, show)}
          value={show}
          onChange={(v) => void design.take(relist(tile, 'show', v))}
        />
      )}
      {(picture === undefined || picture.by.most > 0) && (
        <MultiSelect
          label="by"
          placeholder={by.length === 0 ? 'a field' : ''}
          searchable
          hidePickedOptions
          maxValues={picture?.by.most}
          data={fieldsFor(dataset, (n) => (picture ? notBy(picture, dataset, n) : undefined), by)}
          value={by}
          onChange={(v) => void design.take(relist(tile, 'by', v))}
        />
      )}
      <Split tile={tile} dataset={dataset} picture={picture} />
      {takes('top') && <Leading tile={tile} />}
      <Levels tile={tile} dataset={dataset} takes={takes('drill')} />
      {takes('sort') && <Order tile={tile} dataset={dataset} />}
    </div>
  );
}

interface Offered {
  value: string;
  label: string;
}

/** What is offered, with what stands there and is not: it stays to be seen and taken out. */
const withPresent = (offered: Offered[], present: string[]): Offered[] => [
  ...offered,
  ...present.filter((n) => offered.every((o) => o.value !== n)).map((n) => ({ value: n, label: n })),
];

/**
 * The fields of a dataset, dates by their grains and parts; what does not fit can't be chosen.
 * @param why Says of one why it does not fit.
 * @param present What stands there.
 */
const fieldsFor = (
  dataset: Dataset | undefined,
  why: (name: string) => string | undefined,
  present: string[],
): Offered[] =>
  withPresent(
    (dataset?.fields ?? []).flatMap((f) =>
      [...(isDate(f.kind) ? membersOf(f.kind).map((m) => `${f.name}.${m}`) : []), f.name].map((name) => ({
        value: name,
        label: `${titleOf(dataset, name)}${why(name) ? ` – ${why(name)}` : ''}`,
        disabled: why(name) !== undefined && !present.includes(name),
      })),
    ),
    present,
  );

/** The keys below one of a tile, where it has any. */
const keysOf = (value: WrittenTile['says'][string] | undefined) =>
  typeof value === 'object' && !Array.isArray(value) ? value : undefined;

function Split({ tile, dataset, picture }: Omit<SentenceProps, 'onKind'>) {
  const design = useDesign() as Designing;
  const split = word(tile.says.split);
  const isSeveral = names(tile.says.show).length > 1 && !picture?.splitsSeveral;
  if (!picture?.canSplit && split === undefined) return null;
  return (
    <Select
      label="split by"
      placeholder="nothing"
      searchable
      clearable
      data={fieldsFor(
        dataset,
        (n) => (kindOf(dataset, n) === 'float' ? 'a number has too many values' : undefined),
        split === undefined ? [] : [split],
      )}
      value={split ?? null}
      disabled={split === undefined && isSeveral}
      description={isSeveral ? 'Either several measures or one measure that is split.' : undefined}
      onChange={(v) => void design.take(change(tile, 'split', v ?? undefined))}
    />
  );
}

function Leading({ tile }: { tile: WrittenTile }) {
  const design = useDesign() as Designing;
  const top = keysOf(tile.says.top);
  const count = word(top?.count);
  return (
    <div className={classes.pair}>
      <NumberInput
        label="the first"
        placeholder="all"
        min={1}
        max={1000}
        allowDecimal={false}
        key={`top ${count}`}
        defaultValue={top ? Number(count) : ''}
        onBlur={(e) => {
          const next = Number.parseInt(e.currentTarget.value, 10);
          if (Number.isNaN(next)) void design.take(change(tile, 'top', undefined));
          else if (`${next}` !== count) void design.take([put(tile, 'top', { ...(top ?? {}), count: `${next}` })]);
        }}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
      {top && <Flag tile={tile} at={['top', 'rest']} on="true" label="and the rest" is={word(top.rest)} />}
    </div>
  );
}

/** The levels that open below, if the kind has any or they are written all the same. */
function Levels({ tile, dataset, takes }: { tile: WrittenTile; dataset: Dataset | undefined; takes: boolean }) {
  const design = useDesign() as Designing;
  const drill = keysOf(tile.says.drill);
  const levels = names(drill?.to);
  const taken = [...names(tile.says.by), word(tile.says.split)];
  return (
    <>
      {takes && (
        <MultiSelect
          label="opening down to"
          placeholder={levels.length === 0 ? 'no level below' : ''}
          searchable
          hidePickedOptions
          data={fieldsFor(dataset, (n) => (taken.includes(n) ? 'it stands here already' : undefined), levels)}
          value={levels}
          onChange={(v) =>
            void design.take(
              v.length === 0
                ? change(tile, 'drill', undefined)
                : drill
                  ? [{ do: 'set', at: pathOf(tile, 'drill', 'to'), value: v }]
                  : [put(tile, 'drill', { to: v })],
            )
          }
        />
      )}
      {drill && (
        <Flag
          tile={tile}
          at={['drill', 'drives']}
          on="true"
          label="what is opened filters too"
          is={word(drill.drives)}
        />
      )}
    </>
  );
}

function Order({ tile, dataset }: { tile: WrittenTile; dataset: Dataset | undefined }) {
  const design = useDesign() as Designing;
  const sort = keysOf(tile.says.sort);
  const show = names(tile.says.show);
  return (
    <div className={classes.pair}>
      <Select
        label="sorted by"
        placeholder="its own order"
        clearable
        data={[...show, ...names(tile.says.by)].map((n) => ({ value: n, label: titleOf(dataset, n) }))}
        value={word(sort?.by) ?? null}
        onChange={(v) =>
          void design.take(
            v === null
              ? change(tile, 'sort', undefined)
              : sort
                ? [{ do: 'set', at: pathOf(tile, 'sort', 'by'), value: v }]
                : [put(tile, 'sort', { by: v, ...(show.includes(v) ? { order: 'descending' } : {}) })],
          )
        }
      />
      {sort && <Flag tile={tile} at={['sort', 'order']} on="descending" label="greatest first" is={word(sort.order)} />}
    </div>
  );
}

interface FlagProps {
  tile: WrittenTile;
  at: string[];
  /** What stands there where it is ticked; otherwise the key is not there. */
  on: string;
  label: string;
  is: string | undefined;
}

/** A word that is there or not. */
function Flag({ tile, at, on, label, is }: FlagProps) {
  const design = useDesign() as Designing;
  return (
    <Checkbox
      label={label}
      checked={is === on}
      onChange={(e) =>
        void design.take([
          e.currentTarget.checked
            ? { do: 'set', at: pathOf(tile, ...at), value: on }
            : { do: 'remove', at: pathOf(tile, ...at) },
        ])
      }
    />
  );
}
