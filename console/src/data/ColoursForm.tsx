import { ColorInput } from '@mantine/core';
import '@mantine/core/styles/ColorInput.css';
import '@mantine/core/styles/ColorPicker.css';
import '@mantine/core/styles/ColorSwatch.css';
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
  /** Writes all colours, or that of one member of several; undefined takes them, or it, away. */
  onWrite: (at: string[], value: Said | undefined) => void;
}

/** The members of a field, each with the colour that it always has; what has none is coloured in the order of the members. */
export default function ColoursForm({ text, field, value, onWrite }: Props) {
  // Tried under a name that no field has: what it gives are the members of the field itself.
  const trial = useTrial({ text, name: 'members_of_it', formula: field, isMeasure: false });
  const said = typeof value === 'object' && !Array.isArray(value) ? value : {};
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
  const give = (member: string, written: string) => {
    const colour = written.trim().toUpperCase();
    // What is only begun is no colour yet.
    if (colour === (word(said[member]) ?? '').toUpperCase() || !/^(#[0-9A-F]{6})?$/.test(colour)) return;
    put(member, colour || undefined);
  };
  const put = (member: string, colour: string | undefined) => {
    const others = Object.keys(said).filter((m) => m !== member).length;
    // The first one brings the mapping with it, and the last one takes it along.
    if (others > 0) onWrite([member], colour);
    else onWrite([], colour === undefined ? undefined : { [member]: colour });
  };
  const problem = trial.error?.message ?? trial.data?.fault?.message ?? trial.data?.faults[0]?.message;
  return (
    <fieldset className={classes.colours}>
      <legend>Colours of its members</legend>
      {problem && <p role="alert">{problem}</p>}
      {trial.isPending && <p className="quiet">…</p>}
      {members.map(({ name, title }) => (
        <ColorInput
          key={`${name} ${word(said[name]) ?? ''}`}
          label={title}
          placeholder="by its place"
          format="hex"
          withEyeDropper={false}
          swatches={[...light.series]}
          swatchesPerRow={8}
          defaultValue={word(said[name]) ?? ''}
          onChangeEnd={(colour) => give(name, colour)}
          rightSection={
            said[name] === undefined ? undefined : (
              <button
                type="button"
                className={classes.noColour}
                aria-label={`No colour for ${title}`}
                onClick={() => put(name, undefined)}
              >
                ×
              </button>
            )
          }
        />
      ))}
    </fieldset>
  );
}
