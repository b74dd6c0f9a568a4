import { Autocomplete, Button, NumberInput, Select, TagsInput, Textarea, TextInput } from '@mantine/core';
import { Trash2 } from 'lucide-react';
import { type FocusEvent, type KeyboardEvent, type ReactNode, useState } from 'react';
import { IconButton } from '../look/IconButton';
import classes from './design.module.css';
import { isMap, itemsOf, names, oneOrMany, type Said, type Step, type TileKey } from './written';

interface Props {
  of: TileKey;
  /** The place of the key in the text. */
  at: string[];
  value: Said | undefined;
  isNeeded: boolean;
  /** Names that can stand in a text. */
  suggestions: string[];
  take: (steps: Step[]) => void;
}

/** Keys whose text is nobody's name. */
const free = new Set(['title', 'description', 'at', 'to', 'below', 'width', 'file', 'alt', 'from', 'contains']);

/** A piece as it would stand on one line of the text. */
export function onALine(said: Said | undefined): string {
  if (said === undefined) return '';
  if (typeof said === 'string') return /^[\p{L}\d_][\p{L}\d_ ./%-]*$/u.test(said) ? said : JSON.stringify(said);
  if (Array.isArray(said)) return `[${said.map(onALine).join(', ')}]`;
  return `{ ${Object.entries(said)
    .map(([k, v]) => `${onALine(k)}: ${onALine(v)}`)
    .join(', ')} }`;
}

/** A key by the form of what may stand there. */
export function KeyForm(props: Props) {
  const { of, at, value, isNeeded, suggestions, take } = props;
  const label = of.name.replaceAll('_', ' ');
  const given = { label, description: of.doc, withAsterisk: isNeeded };
  /** Writes a value, or a piece of text in its place; undefined takes the key out. */
  const onWrite: Write = (next, yaml) => {
    if (yaml !== undefined) take([{ do: 'set', at, yaml }]);
    else if (next !== undefined) take([{ do: 'set', at, value: next }]);
    else if (value !== undefined) take([{ do: 'remove', at }]);
  };
  const own = { given, value, onWrite };
  switch (of.form) {
    case 'word':
      return <OneOf {...own} words={of.words.map((w) => ({ value: w, label: w.replaceAll('_', ' ') }))} />;
    case 'flag':
      return <OneOf {...own} words={yesNo} onWrite={(v) => onWrite(v === undefined ? v : v === 'true')} />;
    case 'whole':
      return <Whole {...own} of={of} />;
    case 'text':
      return <Text {...own} of={of} suggestions={suggestions} />;
    case 'list':
      // A sentence with names in braces may stand in place of a list.
      if (typeof value !== 'string' || of.words.includes(value))
        return <Names {...own} of={of} suggestions={suggestions} />;
      break;
    case 'parts':
      return (
        <fieldset className={classes.parts}>
          <Legend given={given} />
          <Parts {...props} value={isMap(value) ? value : undefined} />
        </fieldset>
      );
    case 'items':
      if (of.item) return <Items {...props} given={given} item={of.item} />;
      break;
    case 'named':
      if (of.item) return <Named {...props} given={given} item={of.item} />;
      break;
  }
  return <Piece of={of} given={given} value={value} onWrite={onWrite} />;
}

const yesNo = [
  { value: 'true', label: 'yes' },
  { value: 'false', label: 'no' },
];

/** What a form of one value is given. */
interface OneValue {
  given: Given;
  value: Said | undefined;
  onWrite: Write;
}

const textOf = (value: Said | undefined) => (typeof value === 'string' ? value : undefined);

function OneOf({ given, value, onWrite, words }: OneValue & { words: { value: string; label: string }[] }) {
  return (
    <Select
      {...given}
      clearable
      placeholder="not said"
      data={words}
      value={textOf(value) ?? null}
      onChange={(v) => onWrite(v ?? undefined)}
    />
  );
}

function Whole({ given, value, onWrite, of }: OneValue & { of: TileKey }) {
  const text = textOf(value);
  return (
    <NumberInput
      {...given}
      key={text}
      min={of.least ?? undefined}
      max={of.most ?? undefined}
      allowDecimal={false}
      defaultValue={text === undefined ? '' : Number(text)}
      onBlur={(e) => {
        const next = e.currentTarget.value;
        if (next !== (text ?? '')) onWrite(next === '' ? undefined : Number(next));
      }}
    />
  );
}

function Text({ given, value, onWrite, of, suggestions }: OneValue & { of: TileKey; suggestions: string[] }) {
  const text = textOf(value);
  if (of.name === 'text') return <Lines given={given} text={text} onWrite={onWrite} />;
  if (free.has(of.name) || suggestions.length === 0)
    return <TextInput {...given} key={text} {...writing(text, onWrite)} />;
  return (
    <Autocomplete
      {...given}
      key={text}
      data={suggestions}
      limit={40}
      onOptionSubmit={(v) => onWrite(v)}
      {...writing(text, onWrite)}
    />
  );
}

function Names({ given, value, onWrite, of, suggestions }: OneValue & { of: TileKey; suggestions: string[] }) {
  const hasWords = of.words.length > 0;
  return (
    <TagsInput
      {...given}
      placeholder={value === undefined ? 'not said' : ''}
      clearable
      data={hasWords ? of.words : suggestions}
      value={names(value)}
      onChange={(v) => {
        const isSentence = v.length === 1 && v[0]?.includes('{');
        onWrite(hasWords || isSentence ? oneOrMany(v) : v.length === 0 ? undefined : v);
      }}
    />
  );
}

/** A text is written when it is left, or with Enter. */
const writing = (text: string | undefined, onWrite: Write) => ({
  defaultValue: text ?? '',
  onKeyDown: (e: KeyboardEvent<HTMLInputElement>) => e.key === 'Enter' && e.currentTarget.blur(),
  onBlur: (e: FocusEvent<HTMLInputElement>) => {
    const next = e.currentTarget.value;
    if (next !== (text ?? '')) onWrite(next === '' ? undefined : next);
  },
});

type Write = (value: Said | number | boolean | undefined, yaml?: string) => void;

function Legend({ given }: { given: Given }) {
  return (
    <legend>
      {given.label}
      <span className="quiet">{given.description}</span>
    </legend>
  );
}

/** A mapping: each part by its own form. It comes with its first part, and goes with its last. */
function Parts({ of, at, value, suggestions, take }: Props & { value: { [key: string]: Said } | undefined }) {
  return of.parts.map((part) => (
    <KeyForm
      key={part.name}
      of={part}
      at={[...at, part.name]}
      value={value?.[part.name]}
      isNeeded={false}
      suggestions={suggestions}
      take={(steps) => {
        const [step] = steps;
        if (value === undefined && step?.do === 'set' && isBelow(step, at, part.name))
          take([{ do: 'set', at, value: { [part.name]: step.value } }]);
        else if (step?.do === 'remove' && isBelow(step, at, part.name) && Object.keys(value ?? {}).length === 1)
          take([{ do: 'remove', at }]);
        else take(steps);
      }}
    />
  ));
}

type Several = Props & { given: Given; item: TileKey };

/** A list of mappings, one below the other. */
function Items({ at, value, suggestions, take, given, item }: Several) {
  const items = itemsOf(value);
  const [isAdding, setAdding] = useState(false);
  const one = `${given.label} ${items.length + 1}`;
  return (
    <fieldset className={classes.parts}>
      <Legend given={given} />
      {items.map((said, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: an item has no other name
        <fieldset key={`${items.length} ${i}`} className={classes.parts}>
          <Head title={`${given.label} ${i + 1}`}>
            <TakeOut
              title={`Take ${given.label} ${i + 1} out`}
              onClick={() => take([{ do: 'remove', at: items.length === 1 ? at : [...at, `${i}`] }])}
            />
          </Head>
          <Parts
            of={item}
            at={[...at, `${i}`]}
            value={said}
            isNeeded={false}
            suggestions={suggestions}
            take={(steps) => take(items.length === 1 && isWhole(steps, at, i) ? [{ do: 'remove', at }] : steps)}
          />
        </fieldset>
      ))}
      {isAdding ? (
        <fieldset className={classes.parts}>
          <Head title={one}>
            <TakeOut title={`Take ${one} out`} onClick={() => setAdding(false)} />
          </Head>
          <Parts
            of={item}
            at={[...at, `${items.length}`]}
            value={undefined}
            isNeeded={false}
            suggestions={suggestions}
            take={([step]) => {
              if (step?.do !== 'set') return;
              setAdding(false);
              take([{ do: 'insert', at, value: step.value }]);
            }}
          />
        </fieldset>
      ) : (
        <Button size="compact-sm" variant="default" onClick={() => setAdding(true)}>
          Add to {given.label}
        </Button>
      )}
    </fieldset>
  );
}

/** True if a step takes out an item as a whole. */
const isWhole = ([step]: Step[], at: string[], item: number) => step?.do === 'remove' && isBelow(step, at, `${item}`);

/** True if a step is about a place right below another, and not further in. */
const isBelow = (step: Step, at: string[], name: string) =>
  step.at?.length === at.length + 1 && step.at.at(-1) === name;

/** What is said by name: of a measure, a column, a member. */
function Named({ at, value, suggestions, take, given, item }: Several) {
  const said = isMap(value) ? value : {};
  const present = Object.keys(said);
  const [adding, setAdding] = useState<string>();
  const form = (name: string, said: Said | undefined) => (
    <KeyForm
      key={name}
      of={{ ...item, name }}
      at={[...at, name]}
      value={said}
      isNeeded={false}
      suggestions={suggestions}
      take={(steps) => {
        const [step] = steps;
        if (step?.do === 'remove' && isBelow(step, at, name) && present.length === 1) take([{ do: 'remove', at }]);
        else if (value === undefined && (step?.do === 'set' || step?.do === 'insert')) {
          // The first item of a list that is not there comes with the list.
          const first = step.do === 'insert' ? [step.value] : step.value;
          take([{ do: 'set', at, value: { [name]: first } }]);
        } else take(steps);
        setAdding(undefined);
      }}
    />
  );
  return (
    <fieldset className={classes.parts}>
      <Legend given={given} />
      {present.map((name) => form(name, said[name]))}
      {adding !== undefined && !present.includes(adding) && form(adding, undefined)}
      <Autocomplete
        key={`${present.length} ${adding ?? ''}`}
        aria-label={`${given.label} of`}
        placeholder="of …"
        limit={40}
        data={suggestions.filter((s) => !present.includes(s))}
        onOptionSubmit={setAdding}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.value.trim() && setAdding(e.currentTarget.value.trim())}
      />
    </fieldset>
  );
}

function Head({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className={classes.bar}>
      <span className="quiet">{title}</span>
      <span className={classes.actions}>{children}</span>
    </div>
  );
}

const TakeOut = ({ title, onClick }: { title: string; onClick: () => void }) => (
  <IconButton size={28} variant="edged" aria-label={title} title={title} onClick={onClick}>
    <Trash2 size={14} aria-hidden />
  </IconButton>
);

type Given = { label: string; description: string; withAsterisk: boolean };

function Lines({ given, text, onWrite }: { given: Given; text: string | undefined; onWrite: Write }) {
  return (
    <Textarea
      {...given}
      key={text}
      autosize
      minRows={4}
      maxRows={16}
      defaultValue={text ?? ''}
      onBlur={(e) => {
        const next = e.currentTarget.value;
        if (next !== (text ?? '')) onWrite(next === '' ? undefined : next.endsWith('\n') ? next : `${next}\n`);
      }}
    />
  );
}

/** What has parts is written as it stands in the text. */
function Piece({ of, given, value, onWrite }: { of: TileKey; given: Given; value: Said | undefined; onWrite: Write }) {
  const before = Array.isArray(value) && names(value).length === value.length ? value.join(', ') : onALine(value);
  const [now, setNow] = useState(before);
  const [was, setWas] = useState(before);
  if (was !== before) {
    setWas(before);
    setNow(before);
  }
  const parts = of.parts.map((p) => p.name);
  return (
    <TextInput
      {...given}
      placeholder={parts.length > 0 ? `{ ${parts[0]}: … }` : '{ … }'}
      value={now}
      onChange={(e) => setNow(e.currentTarget.value)}
      onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      onBlur={() => {
        const next = now.trim();
        if (next === before) return;
        if (next === '') onWrite(undefined);
        else if (/^[[{"']/.test(next)) onWrite(undefined, next);
        else if (next.includes(',') && (of.words.length > 0 || Array.isArray(value)))
          onWrite(
            next
              .split(',')
              .map((n) => n.trim())
              .filter(Boolean),
          );
        else onWrite(next);
      }}
    />
  );
}
