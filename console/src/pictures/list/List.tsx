import '../parts/controls.css';
import { Checkbox, Radio } from '@mantine/core';
import { label } from '../../model/labels';
import { isPicked, toggle } from '../../model/selections';
import classes from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';

/** Members to tick, or one of them; "all" is a choice of its own. What is picked and has no rows now stays, marked. */
export default function ListPicture({ tile, result, selection, onSelect }: PictureProps) {
  const column = result.table.columns[0];
  if (!column) return null;
  const values = result.table.values[0] ?? [];
  const gone = (selection?.members ?? []).map((m) => m[0] ?? null).filter((v) => !values.includes(v));
  const options = [...values.map((v) => ({ v, isGone: false })), ...gone.map((v) => ({ v, isGone: true }))];
  const isAll = !selection;
  const Option = tile.pick === 'one' ? Radio : Checkbox;
  return (
    <fieldset className={classes.options} style={{ border: 0, padding: 0, margin: 0 }}>
      <legend className="hidden-visually">{tile.title}</legend>
      {!tile.isRequired && <Option size="xs" label="All" checked={isAll} onChange={() => onSelect(undefined)} />}
      {options.map(({ v, isGone }) => (
        <Option
          key={JSON.stringify(v)}
          size="xs"
          label={`${label(v, column)}${isGone ? ' (no rows now)' : ''}`}
          checked={isPicked(selection, [v])}
          onChange={() => onSelect(toggle(selection, [v], tile.pick))}
        />
      ))}
      {result.lines > values.length && (
        <span className="quiet">
          The first {values.length.toLocaleString('en-US')} of {result.lines.toLocaleString('en-US')}.
        </span>
      )}
    </fieldset>
  );
}
