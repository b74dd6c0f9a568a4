import { Autocomplete, NumberInput, Select, Textarea, TextInput } from '@mantine/core';
import { useState } from 'react';
import { names, type Said, type TileKey } from './written';

interface Props {
  of: TileKey;
  value: Said | undefined;
  isNeeded: boolean;
  /** Names that can stand in a text. */
  suggestions: string[];
  /** A value, or a piece of text in its place; undefined takes the key out. */
  onWrite: (value: Said | number | boolean | undefined, yaml?: string) => void;
}

/** A piece as it would stand on one line of the text. */
export function onALine(said: Said | undefined): string {
  if (said === undefined) return '';
  if (typeof said === 'string') return /^[\p{L}\d_][\p{L}\d_ ./%-]*$/u.test(said) ? said : JSON.stringify(said);
  if (Array.isArray(said)) return `[${said.map(onALine).join(', ')}]`;
  return `{ ${Object.entries(said)
    .map(([k, v]) => `${onALine(k)}: ${onALine(v)}`)
    .join(', ')} }`;
}

/** A key of a tile by the form of what may stand there. */
export function KeyForm({ of, value, isNeeded, suggestions, onWrite }: Props) {
  const label = of.name.replaceAll('_', ' ');
  const given = { label, description: of.doc, withAsterisk: isNeeded };
  const text = typeof value === 'string' ? value : undefined;
  switch (of.form) {
    case 'word':
      return (
        <Select
          {...given}
          clearable
          placeholder="not said"
          data={of.words.map((w) => ({ value: w, label: w.replaceAll('_', ' ') }))}
          value={text ?? null}
          onChange={(v) => onWrite(v ?? undefined)}
        />
      );
    case 'flag':
      return (
        <Select
          {...given}
          clearable
          placeholder="not said"
          data={[
            { value: 'true', label: 'yes' },
            { value: 'false', label: 'no' },
          ]}
          value={text ?? null}
          onChange={(v) => onWrite(v === null ? undefined : v === 'true')}
        />
      );
    case 'whole':
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
    case 'text':
      return of.name === 'text' ? (
        <Lines given={given} text={text} onWrite={onWrite} />
      ) : (
        <Autocomplete
          {...given}
          key={text}
          data={suggestions}
          limit={40}
          defaultValue={text ?? ''}
          onOptionSubmit={(v) => onWrite(v)}
          onBlur={(e) => {
            const next = e.currentTarget.value;
            if (next !== (text ?? '')) onWrite(next === '' ? undefined : next);
          }}
        />
      );
    default:
      return <Piece of={of} given={given} value={value} onWrite={onWrite} />;
  }
}

type Given = { label: string; description: string; withAsterisk: boolean };

function Lines({ given, text, onWrite }: { given: Given; text: string | undefined; onWrite: Props['onWrite'] }) {
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
function Piece({ of, given, value, onWrite }: { of: TileKey; given: Given } & Pick<Props, 'value' | 'onWrite'>) {
  const before = Array.isArray(value) && names(value).length === value.length ? value.join(', ') : onALine(value);
  const isList = of.form === 'list';
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
      placeholder={isList ? 'one, or several with commas' : parts.length > 0 ? `{ ${parts[0]}: … }` : '{ … }'}
      value={now}
      onChange={(e) => setNow(e.currentTarget.value)}
      onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      onBlur={() => {
        const next = now.trim();
        if (next === before) return;
        if (next === '') onWrite(undefined);
        else if (/^[[{"']/.test(next)) onWrite(undefined, next);
        else if (next.includes(',') && (isList || of.words.length > 0 || Array.isArray(value)))
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
