import { ColorInput, isColorValid } from '@mantine/core';
import '@mantine/core/styles/ColorInput.css';
import '@mantine/core/styles/ColorPicker.css';
import '@mantine/core/styles/ColorSwatch.css';
import { useRef, useState } from 'react';
import type { ColumnInfo, Value } from '../api/client';
import type { Said } from '../design/written';
import { word } from '../design/written';
import { light } from '../look/tokens';
import { label } from '../model/labels';
import classes from './data.module.css';
import { useTrial } from './useTrial';

interface Props {
  /** The text of the dataset. */
  text: string;
  field: string;
  value: Said | undefined;
  /** Writes the colours of all members; undefined takes them away. True once that is stored. */
  onWrite: (colours: Said | undefined) => Promise<boolean>;
}

/** The members of a field, each with the colour that it always has; what has none is coloured in the order of the members. */
export default function ColoursForm({ text, field, value, onWrite }: Props) {
  // Tried under a name that no field has: what it gives are the members of the field itself.
  const trial = useTrial({ text, name: 'members_of_it', formula: field, isMeasure: false });
  const [said, write] = useOwn(mappingOf(value), onWrite);
  const table = trial.data?.table;
  const [column] = (table?.columns ?? []) as ColumnInfo[];
  const found = ((table?.values ?? []) as Value[][])[0] ?? [];
  // What has a colour and is none of the most frequent is there, too.
  const members = [
    ...found.filter((m) => m !== null).map((m) => ({ name: String(m), title: column ? label(m, column) : String(m) })),
    ...Object.keys(said)
      .filter((m) => !found.some((f) => String(f) === m))
      .map((name) => ({ name, title: name })),
  ];
  const put = (member: string, colour: string | undefined) => {
    const { [member]: _, ...others } = said;
    write(colour === undefined ? others : { ...others, [member]: colour });
  };
  const problem = trial.error?.message ?? trial.data?.fault?.message ?? trial.data?.faults[0]?.message;
  return (
    <fieldset className={classes.colours}>
      <legend>Colours of its members</legend>
      {problem && <p role="alert">{problem}</p>}
      {trial.isPending && <p className="quiet">…</p>}
      {members.map(({ name, title }) => (
        <ColourField key={name} title={title} colour={said[name]} onGive={(colour) => put(name, colour)} />
      ))}
    </fieldset>
  );
}

interface Colours {
  [member: string]: string;
}

function mappingOf(value: Said | undefined): Colours {
  if (typeof value !== 'object' || Array.isArray(value)) return {};
  return Object.fromEntries(Object.entries(value).map(([member, colour]) => [member, word(colour) ?? '']));
}

/**
 * The colours as they are with all that was given here, before it has been written: whoever gives the next one at once takes nothing back.
 * What is said of them elsewhere, in the text or by a step back, counts as soon as it comes.
 */
function useOwn(value: Colours, onWrite: Props['onWrite']): [Colours, (next: Colours) => void] {
  const [own, setOwn] = useState({ is: value, known: value, sent: [] as Colours[] });
  let now = own;
  if (!isSame(value, own.known)) {
    const at = own.sent.findIndex((s) => isSame(s, value));
    now = at < 0 ? { is: value, known: value, sent: [] } : { ...own, known: value, sent: own.sent.slice(at + 1) };
    setOwn(now);
  }
  const give = async (next: Colours) => {
    setOwn((o) => ({ ...o, is: next, sent: [...o.sent, next] }));
    const isStored = await onWrite(Object.keys(next).length === 0 ? undefined : next);
    // Why not is told beside the text.
    if (!isStored) setOwn((o) => ({ is: o.known, known: o.known, sent: [] }));
  };
  return [now.is, (next) => void give(next)];
}

function isSame(a: Colours, b: Colours): boolean {
  const names = Object.keys(a);
  return names.length === Object.keys(b).length && names.every((n) => a[n] === b[n]);
}

interface FieldProps {
  title: string;
  /** The colour that is said of the member. */
  colour: string | undefined;
  /** Takes a colour as `#RRGGBB`, or undefined for none. */
  onGive: (colour: string | undefined) => void;
}

function ColourField({ title, colour = '', onGive }: FieldProps) {
  const [written, setWritten] = useState(colour);
  const [known, setKnown] = useState(colour);
  if (colour !== known) {
    setKnown(colour);
    if (colour.toUpperCase() !== written.toUpperCase()) setWritten(colour);
  }
  const give = (next: string) => {
    if (next.toUpperCase() !== colour.toUpperCase()) onGive(next.toUpperCase() || undefined);
  };
  // What is typed may mean a colour before it is all there: #223 of #22308A. It is given when it is left.
  const typed = useRef({ is: colour, means: colour });
  const meaning = () => (written === typed.current.is ? typed.current.means : written);
  const leave = () => {
    const means = written.trim() === '' ? '' : isColorValid(written) ? meaning() : colour;
    setWritten(means);
    give(means);
  };
  return (
    <ColorInput
      label={title}
      placeholder="by its place"
      format="hex"
      withEyeDropper={false}
      swatches={[...light.series]}
      swatchesPerRow={8}
      fixOnBlur={false}
      value={written}
      onChange={(is) => {
        typed.current.is = is;
        setWritten(is);
      }}
      onChangeEnd={(means) => {
        typed.current.means = means;
        if (means.toUpperCase() === typed.current.is.toUpperCase()) give(means);
      }}
      onBlur={leave}
      onKeyDown={(e) => {
        if (e.key === 'Enter') leave();
      }}
      attributes={{ saturation: { title: 'Saturation and brightness' }, slider: { title: 'Hue' } }}
      rightSection={
        colour === '' ? undefined : (
          <button
            type="button"
            className={classes.noColour}
            aria-label={`No colour for ${title}`}
            onClick={() => give('')}
          >
            ×
          </button>
        )
      }
    />
  );
}
