import { Button, Checkbox, MultiSelect, NumberInput, Select, Textarea, TextInput } from '@mantine/core';
import { IconButton } from '../look/IconButton';
import '@mantine/core/styles/NumberInput.css';
import { ClipboardCopy, Copy, FileText, Trash2 } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import classes from './design.module.css';
import { KeyForm } from './KeyForm';
import { type Designing, useDesign } from './useDesign';
import {
  asKind,
  type Change,
  change,
  type Dataset,
  freeName,
  isDate,
  kindOf,
  membersOf,
  names,
  notBy,
  type Picture,
  pathOf,
  put,
  relist,
  sentenceOf,
  tilesOf,
  titleOf,
  type WrittenTile,
  word,
} from './written';

/** Keys that the sentence, or the form around it, has places for. */
const placed = new Set([
  'tile',
  'picture',
  'shared',
  'dataset',
  'show',
  'by',
  'split',
  'top',
  'sort',
  'drill',
  'title',
  'description',
  'group',
  'drives',
  'follows',
  'place',
  'section',
]);

/** A tile told as a sentence with places to fill: the very sentence of its text. */
export function TileForm({ tile }: { tile: WrittenTile }) {
  const design = useDesign() as Designing;
  const [kept, setKept] = useState<{ to: Picture; change: Change }>();
  const [isMore, setMore] = useState(false);
  const { says } = tile;
  const dataset = design.datasets.find((d) => d.name === word(says.dataset));
  const picture = design.pictures.find((p) => p.name === word(says.picture));
  const isShared = says.shared !== undefined;
  const set = (key: string, value: Parameters<typeof change>[2]) => void design.take(change(tile, key, value));

  function choose(name: string) {
    const to = design.pictures.find((p) => p.name === name);
    if (!to || to === picture) return;
    const made = asKind(tile, picture, to, dataset);
    if (made.lost.length > 0) setKept({ to, change: made });
    else {
      setKept(undefined);
      void design.take(made.steps);
    }
  }

  const own = new Set([...(picture?.own ?? []), ...(picture?.ofMembers ?? [])].map((o) => o.name));
  const elsewhere = new Set(design.pictures.flatMap((p) => [...p.own, ...p.ofMembers].map((o) => o.name)));
  const more = design.keys.filter(
    (k) => !placed.has(k.name) && (isShared ? !elsewhere.has(k.name) : own.has(k.name) || !elsewhere.has(k.name)),
  );
  const isSet = (name: string) => says[name] !== undefined;
  const shown = more.filter((k) => isMore || isSet(k.name));
  return (
    <section aria-label={`Design of ${tile.name}`} className={classes.form}>
      <div className={classes.bar}>
        <h3 className={classes.formTitle}>{tile.name}</h3>
        <Actions tile={tile} />
      </div>
      <p className="quiet" data-sentence>
        {sentenceOf(tile, dataset)}
      </p>
      {isShared ? (
        <p className="quiet">
          What it shows is said in its catalogue; here it has a title and surroundings of its own.
        </p>
      ) : (
        <Sentence tile={tile} dataset={dataset} picture={picture} onKind={choose} />
      )}
      {kept && (
        <div className={classes.kept} role="alert">
          <p>
            As {kept.to.name} it has no room for: {kept.change.lost.join('; ')}.
            {kept.change.wanting && ` Then ${kept.change.wanting}.`}
          </p>
          <Button
            size="compact-sm"
            onClick={() => {
              void design.take(kept.change.steps);
              setKept(undefined);
            }}
          >
            Change it and leave that out
          </Button>{' '}
          <Button size="compact-sm" variant="default" onClick={() => setKept(undefined)}>
            Leave it as it is
          </Button>
        </div>
      )}
      <Written label="Title" value={word(says.title)} onWrite={(v) => set('title', v)} />
      <Written label="Description" value={word(says.description)} onWrite={(v) => set('description', v)} isLong />
      <Wiring tile={tile} />
      {shown.map((key) => (
        <KeyForm
          key={key.name}
          of={key}
          value={says[key.name]}
          isNeeded={picture?.own.some((o) => o.name === key.name && o.isNeeded) ?? false}
          suggestions={
            dataset
              ? [
                  ...dataset.measures.map((m) => m.name),
                  ...dataset.fields.flatMap((f) => [f.name, ...membersOf(f.kind).map((m) => `${f.name}.${m}`)]),
                ]
              : []
          }
          at={pathOf(tile, key.name)}
          take={(steps) => void design.take(steps)}
        />
      ))}
      {more.some((k) => !isSet(k.name)) && (
        <Button size="compact-sm" variant="default" aria-expanded={isMore} onClick={() => setMore(!isMore)}>
          {isMore ? 'Less' : `More (${more.filter((k) => !isSet(k.name)).length})`}
        </Button>
      )}
    </section>
  );
}

function Actions({ tile }: { tile: WrittenTile }) {
  const design = useDesign() as Designing;
  const all = tilesOf(design.said);
  const [isCopied, setCopied] = useState(false);
  const action = (label: string, icon: ReactNode, onClick: () => void) => (
    <IconButton size={28} variant="edged" aria-label={label} title={label} onClick={onClick}>
      {icon}
    </IconButton>
  );
  return (
    <span className={classes.actions}>
      <span role="status" className="quiet">
        {isCopied && 'Copied'}
      </span>
      {action('Show it in the text', <FileText size={14} aria-hidden />, () => design.showText(tile.name))}
      {action('Copy it as text', <ClipboardCopy size={14} aria-hidden />, () => {
        const text = design.textOf(tile.name);
        if (text === undefined) return;
        // Browsers let nobody write to the clipboard where the page came without TLS.
        if (navigator.clipboard)
          navigator.clipboard.writeText(text).then(
            () => setCopied(true),
            () => design.showText(tile.name),
          );
        else design.showText(tile.name);
      })}
      {action('Duplicate it', <Copy size={14} aria-hidden />, () => {
        const as = freeName(
          all.map((t) => t.name),
          tile.name,
        );
        void design.arrange({ edit: 'copy-tile', tile: tile.name, as, tab: tile.tab });
      })}
      {action('Take it out', <Trash2 size={14} aria-hidden />, () => {
        design.select(undefined);
        void design.arrange({ edit: 'remove-tile', tile: tile.name });
      })}
    </span>
  );
}

interface SentenceProps {
  tile: WrittenTile;
  dataset: Dataset | undefined;
  picture: Picture | undefined;
  onKind: (name: string) => void;
}

/** The sentence: each place takes what fits it, and says why the rest does not. */
function Sentence({ tile, dataset, picture, onKind }: SentenceProps) {
  const design = useDesign() as Designing;
  const { says } = tile;
  const [show, by] = [names(says.show), names(says.by)];
  const split = word(says.split);
  const takes = (key: string) => picture?.ofMembers.some((m) => m.name === key) ?? false;
  const measures = (dataset?.measures ?? []).map((m) => ({ value: m.name, label: m.title }));
  const fieldsFor = (why: (name: string) => string | undefined, present: string[]) => {
    const offered = (dataset?.fields ?? []).flatMap((f) =>
      [...(isDate(f.kind) ? membersOf(f.kind).map((m) => `${f.name}.${m}`) : []), f.name].map((name) => ({
        value: name,
        label: `${titleOf(dataset, name)}${why(name) ? ` – ${why(name)}` : ''}`,
        disabled: why(name) !== undefined && !present.includes(name),
      })),
    );
    const known = new Set(offered.map((o) => o.value));
    // What the dataset does not have, such as a choice of the viewer, stays to be seen and taken out.
    return [...offered, ...present.filter((n) => !known.has(n)).map((n) => ({ value: n, label: n, disabled: false }))];
  };
  const withOwn = (data: { value: string; label: string }[], present: string[]) => [
    ...data,
    ...present.filter((n) => !data.some((d) => d.value === n)).map((n) => ({ value: n, label: n })),
  ];
  const top = typeof says.top === 'object' && !Array.isArray(says.top) ? says.top : undefined;
  const sort = typeof says.sort === 'object' && !Array.isArray(says.sort) ? says.sort : undefined;
  const drill = typeof says.drill === 'object' && !Array.isArray(says.drill) ? says.drill : undefined;
  const levels = names(drill?.to);
  const sortable = [...show, ...by].map((n) => ({ value: n, label: titleOf(dataset, n) }));
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
          data={withOwn(
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
          data={withOwn(measures, show)}
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
          data={fieldsFor((n) => (picture ? notBy(picture, dataset, n) : undefined), by)}
          value={by}
          onChange={(v) => void design.take(relist(tile, 'by', v))}
        />
      )}
      {(picture?.canSplit || split !== undefined) && (
        <Select
          label="split by"
          placeholder="nothing"
          searchable
          clearable
          data={fieldsFor(
            (n) => (kindOf(dataset, n) === 'float' ? 'a number has too many values' : undefined),
            split === undefined ? [] : [split],
          )}
          value={split ?? null}
          disabled={split === undefined && show.length > 1 && !picture?.splitsSeveral}
          description={
            show.length > 1 && !picture?.splitsSeveral
              ? 'Either several measures or one measure that is split.'
              : undefined
          }
          onChange={(v) => void design.take(change(tile, 'split', v ?? undefined))}
        />
      )}
      {takes('top') && (
        <div className={classes.pair}>
          <NumberInput
            label="the first"
            placeholder="all"
            min={1}
            max={1000}
            allowDecimal={false}
            key={`top ${word(top?.count)}`}
            defaultValue={top ? Number(word(top.count)) : ''}
            onBlur={(e) => {
              const count = Number.parseInt(e.currentTarget.value, 10);
              if (Number.isNaN(count)) void design.take(change(tile, 'top', undefined));
              else if (`${count}` !== word(top?.count))
                void design.take([
                  put(tile, 'top', { ...(top ?? {}), count: `${count}` } as unknown as Parameters<typeof put>[2]),
                ]);
            }}
            onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
          />
          {top && <Flag tile={tile} at={['top', 'rest']} on="true" label="and the rest" is={word(top.rest)} />}
        </div>
      )}
      {takes('drill') && (
        <MultiSelect
          label="opening down to"
          placeholder={levels.length === 0 ? 'no level below' : ''}
          searchable
          hidePickedOptions
          data={fieldsFor((n) => (by.includes(n) || n === split ? 'it stands here already' : undefined), levels)}
          value={levels}
          onChange={(v) =>
            void design.take(
              v.length === 0
                ? change(tile, 'drill', undefined)
                : drill
                  ? [{ do: 'set', at: pathOf(tile, 'drill', 'to'), value: v as never }]
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
      {takes('sort') && (
        <div className={classes.pair}>
          <Select
            label="sorted by"
            placeholder="its own order"
            clearable
            data={sortable}
            value={word(sort?.by) ?? null}
            onChange={(v) =>
              void design.take(
                v === null
                  ? change(tile, 'sort', undefined)
                  : sort
                    ? [{ do: 'set', at: pathOf(tile, 'sort', 'by'), value: v as never }]
                    : [put(tile, 'sort', { by: v, ...(show.includes(v) ? { order: 'descending' } : {}) })],
              )
            }
          />
          {sort && (
            <Flag tile={tile} at={['sort', 'order']} on="descending" label="greatest first" is={word(sort.order)} />
          )}
        </div>
      )}
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
            ? { do: 'set', at: pathOf(tile, ...at), value: on as never }
            : { do: 'remove', at: pathOf(tile, ...at) },
        ])
      }
    />
  );
}

/** What is picked on it filters, and what filters it: words of the text, or tiles by name. */
function Wiring({ tile }: { tile: WrittenTile }) {
  const design = useDesign() as Designing;
  const tiles = tilesOf(design.said);
  const others = tiles.filter((t) => t.name !== tile.name).map((t) => ({ value: t.name, label: t.name }));
  const said = design.said as
    | {
        tabs?: {
          tab: string;
          groups?: { group: string; title?: string }[];
          sections?: { section: string; title?: string }[];
        }[];
      }
    | undefined;
  const tab = said?.tabs?.find((t) => t.tab === tile.tab);
  const groups = tab?.groups ?? [];
  const sections = tab?.sections ?? [];
  const group = word(tile.says.group);
  const [isNaming, setNaming] = useState(false);
  const reach = (
    key: 'drives' | 'follows',
    label: string,
    words: { value: string; label: string }[],
    usual: string,
  ) => (
    <MultiSelect
      label={label}
      placeholder={names(tile.says[key]).length === 0 ? usual : ''}
      searchable
      data={[
        { group: 'As a whole', items: words },
        { group: 'Tiles', items: others },
      ]}
      value={names(tile.says[key])}
      onChange={(v) => {
        // A word stands alone; tiles are a list.
        const last = v.at(-1);
        const isWord = words.some((w) => w.value === last);
        const list = isWord ? [] : v.filter((n) => !words.some((w) => w.value === n));
        void design.take(change(tile, key, isWord ? last : list.length === 0 ? undefined : list));
      }}
    />
  );
  return (
    <div className={classes.sentence}>
      {reach(
        'drives',
        'drives',
        [
          { value: 'tab', label: 'the tiles of its tab' },
          { value: 'dashboard', label: 'the dashboard' },
          ...(group === undefined ? [] : [{ value: 'group', label: 'its group' }]),
          { value: 'none', label: 'none' },
        ],
        group === undefined ? 'the tiles of its tab' : 'its group',
      )}
      {reach(
        'follows',
        'follows',
        [
          { value: 'all', label: 'all that drive it' },
          { value: 'none', label: 'none' },
        ],
        'all that drive it',
      )}
      <Select
        label="in the group"
        placeholder="none"
        clearable
        data={[
          ...groups.map((g) => ({ value: g.group, label: g.title ?? g.group })),
          { value: ' new', label: 'A new group …' },
        ]}
        value={group ?? null}
        onChange={(v) => {
          if (v === ' new') setNaming(true);
          else void design.take(change(tile, 'group', v ?? undefined));
        }}
      />
      {sections.length > 0 && tile.says.place !== 'panel' && (
        <Select
          label="stands in the section"
          placeholder="none"
          clearable
          data={sections.map((s) => ({ value: s.section, label: s.title ?? s.section }))}
          value={word(tile.says.section) ?? null}
          onChange={(section) =>
            void design.arrange({ edit: 'move', tile: tile.name, tab: tile.tab, section: section ?? null })
          }
        />
      )}
      {isNaming && (
        <TextInput
          label="What the group is called"
          autoFocus
          onKeyDown={(e) => {
            if (e.key === 'Escape') setNaming(false);
            const title = e.currentTarget.value.trim();
            if (e.key !== 'Enter' || !title) return;
            const name = freeName(
              (said?.tabs ?? []).flatMap((t) => (t.groups ?? []).map((g) => g.group)),
              title,
            );
            setNaming(false);
            void design.take([
              { do: 'insert', at: ['tabs', tile.tab, 'groups'], value: { group: name, title } as never },
              put(tile, 'group', name),
            ]);
          }}
        />
      )}
    </div>
  );
}

/** A text that is written when it is left, or with Enter. */
export function Written({
  label,
  value,
  onWrite,
  isLong = false,
  description,
}: {
  label: string;
  value: string | undefined;
  onWrite: (value: string | undefined) => void;
  isLong?: boolean;
  description?: string;
}) {
  const given = {
    label,
    description,
    // What came from elsewhere, such as going back, is what the form goes on from.
    key: value ?? '',
    defaultValue: value ?? '',
    onBlur: (e: { currentTarget: { value: string } }) => {
      const next = e.currentTarget.value;
      if (next !== (value ?? '')) onWrite(next.trim() === '' ? undefined : next);
    },
  };
  const { key, ...rest } = given;
  return isLong ? (
    <Textarea key={key} autosize minRows={1} maxRows={8} {...rest} />
  ) : (
    <TextInput key={key} {...rest} onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()} />
  );
}
