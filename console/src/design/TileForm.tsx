import { Button, MultiSelect, Select, Textarea, TextInput } from '@mantine/core';
import { ClipboardCopy, Copy, FileText, Trash2 } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { IconButton } from '../look/IconButton';
import classes from './design.module.css';
import { KeyForm } from './KeyForm';
import { Sentence } from './Sentence';
import { type Designing, useDesign } from './useDesign';
import {
  asKind,
  type Change,
  change,
  freeName,
  membersOf,
  names,
  type Picture,
  pathOf,
  put,
  sentenceOf,
  tilesOf,
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
      {kept && <Losses {...kept} onLeave={() => setKept(undefined)} />}
      <Written label="Title" value={word(says.title)} onWrite={(v) => set('title', v)} />
      <Written label="Description" value={word(says.description)} onWrite={(v) => set('description', v)} isLong />
      <Wiring tile={tile} />
      <OtherKeys tile={tile} dataset={dataset} picture={picture} />
    </section>
  );
}

/** What another kind of picture has no room for; it is changed only when that is meant. */
function Losses({
  to,
  change: { lost, wanting, steps },
  onLeave,
}: {
  to: Picture;
  change: Change;
  onLeave: () => void;
}) {
  const design = useDesign() as Designing;
  return (
    <div className={classes.kept} role="alert">
      <p>
        As {to.name} it has no room for: {lost.join('; ')}.{wanting && ` Then ${wanting}.`}
      </p>
      <Button
        size="compact-sm"
        onClick={() => {
          void design.take(steps);
          onLeave();
        }}
      >
        Change it and leave that out
      </Button>{' '}
      <Button size="compact-sm" variant="default" onClick={onLeave}>
        Leave it as it is
      </Button>
    </div>
  );
}

/** The keys that have no place in the sentence: those that are set, and on request those that may be. */
function OtherKeys({
  tile,
  dataset,
  picture,
}: {
  tile: WrittenTile;
  dataset: Designing['datasets'][number] | undefined;
  picture: Picture | undefined;
}) {
  const design = useDesign() as Designing;
  const [isMore, setMore] = useState(false);
  const { says } = tile;
  const own = new Set([...(picture?.own ?? []), ...(picture?.ofMembers ?? [])].map((o) => o.name));
  const elsewhere = new Set(design.pictures.flatMap((p) => [...p.own, ...p.ofMembers].map((o) => o.name)));
  const isShared = says.shared !== undefined;
  const keys = design.keys.filter(
    (k) => !placed.has(k.name) && (isShared ? !elsewhere.has(k.name) : own.has(k.name) || !elsewhere.has(k.name)),
  );
  const unset = keys.filter((k) => says[k.name] === undefined).length;
  const suggestions = dataset
    ? [
        ...dataset.measures.map((m) => m.name),
        ...dataset.fields.flatMap((f) => [f.name, ...membersOf(f.kind).map((m) => `${f.name}.${m}`)]),
      ]
    : [];
  return (
    <>
      {keys
        .filter((k) => isMore || says[k.name] !== undefined)
        .map((key) => (
          <KeyForm
            key={key.name}
            of={key}
            value={says[key.name]}
            isNeeded={picture?.own.some((o) => o.name === key.name && o.isNeeded) ?? false}
            suggestions={suggestions}
            at={pathOf(tile, key.name)}
            take={(steps) => void design.take(steps)}
          />
        ))}
      {unset > 0 && (
        <Button size="compact-sm" variant="default" aria-expanded={isMore} onClick={() => setMore(!isMore)}>
          {isMore ? 'Less' : `More (${unset})`}
        </Button>
      )}
    </>
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

/** A tab as the text of a dashboard says it: what its tiles can stand in and be grouped by. */
interface WrittenTab {
  tab: string;
  groups?: { group: string; title?: string }[];
  sections?: { section: string; title?: string }[];
}

const tabsOf = (design: Designing) => (design.said as { tabs?: WrittenTab[] } | undefined)?.tabs ?? [];

/** What is picked on it filters, and what filters it: words of the text, or tiles by name. */
function Wiring({ tile }: { tile: WrittenTile }) {
  const design = useDesign() as Designing;
  const isGrouped = word(tile.says.group) !== undefined;
  const sections = tabsOf(design).find((t) => t.tab === tile.tab)?.sections ?? [];
  return (
    <div className={classes.sentence}>
      <Reach
        tile={tile}
        side="drives"
        words={[
          { value: 'tab', label: 'the tiles of its tab' },
          { value: 'dashboard', label: 'the dashboard' },
          ...(isGrouped ? [{ value: 'group', label: 'its group' }] : []),
          { value: 'none', label: 'none' },
        ]}
        usual={isGrouped ? 'its group' : 'the tiles of its tab'}
      />
      <Reach
        tile={tile}
        side="follows"
        words={[
          { value: 'all', label: 'all that drive it' },
          { value: 'none', label: 'none' },
        ]}
        usual="all that drive it"
      />
      <GroupChoice tile={tile} />
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
    </div>
  );
}

/** How far it drives, or whom it follows: a word for all, or a list of tiles. */
function Reach({
  tile,
  side,
  words,
  usual,
}: {
  tile: WrittenTile;
  side: 'drives' | 'follows';
  words: { value: string; label: string }[];
  /** What holds where nothing is said. */
  usual: string;
}) {
  const design = useDesign() as Designing;
  const others = tilesOf(design.said).filter((t) => t.name !== tile.name);
  const isWord = (name: string | undefined) => words.some((w) => w.value === name);
  const value = names(tile.says[side]);
  return (
    <MultiSelect
      label={side}
      placeholder={value.length === 0 ? usual : ''}
      searchable
      data={[
        { group: 'As a whole', items: words },
        { group: 'Tiles', items: others.map((t) => ({ value: t.name, label: t.name })) },
      ]}
      value={value}
      onChange={(v) => {
        // A word stands alone; tiles are a list.
        const last = v.at(-1);
        const list = v.filter((n) => !isWord(n));
        void design.take(change(tile, side, isWord(last) ? last : list.length === 0 ? undefined : list));
      }}
    />
  );
}

/** The group that it is in, or a new one. */
function GroupChoice({ tile }: { tile: WrittenTile }) {
  const design = useDesign() as Designing;
  const tabs = tabsOf(design);
  const groups = tabs.find((t) => t.tab === tile.tab)?.groups ?? [];
  const [isNaming, setNaming] = useState(false);
  const make = (title: string) => {
    const taken = tabs.flatMap((t) => (t.groups ?? []).map((g) => g.group));
    const name = freeName(taken, title);
    setNaming(false);
    void design.take([
      { do: 'insert', at: ['tabs', tile.tab, 'groups'], value: { group: name, title } },
      put(tile, 'group', name),
    ]);
  };
  return (
    <>
      <Select
        label="in the group"
        placeholder="none"
        clearable
        data={[
          ...groups.map((g) => ({ value: g.group, label: g.title ?? g.group })),
          { value: ' new', label: 'A new group …' },
        ]}
        value={word(tile.says.group) ?? null}
        onChange={(v) => {
          if (v === ' new') setNaming(true);
          else void design.take(change(tile, 'group', v ?? undefined));
        }}
      />
      {isNaming && (
        <TextInput
          label="What the group is called"
          autoFocus
          onKeyDown={(e) => {
            if (e.key === 'Escape') setNaming(false);
            const title = e.currentTarget.value.trim();
            if (e.key === 'Enter' && title) make(title);
          }}
        />
      )}
    </>
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
