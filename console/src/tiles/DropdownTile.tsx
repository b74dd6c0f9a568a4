import { MultiSelect, Select } from '@mantine/core';
import { useMemo } from 'react';
import type { Value } from '../api/client';
import { label } from '../results/labels';
import type { PictureProps } from './TileFrame';
import classes from './tiles.module.css';

/** A control: pick members from a list. What was picked before and has no rows now stays, marked. */
export default function DropdownTile({ tile, result, selection, onSelect }: PictureProps) {
  const column = result.table.columns[0];
  const values = (result.table.values[0] ?? []) as Value[];
  const options = useMemo(() => {
    if (!column) return [];
    const keys = new Set(values.map((v) => JSON.stringify(v)));
    const gone = (selection?.members ?? []).map((m) => m[0] ?? null).filter((v) => !keys.has(JSON.stringify(v)));
    return [
      ...values.map((v) => ({ value: JSON.stringify(v), label: label(v, column) })),
      ...gone.map((v) => ({ value: JSON.stringify(v), label: `${label(v, column)} (no rows now)` })),
    ];
  }, [values, column, selection]);
  const picked = (selection?.members ?? []).map((m) => JSON.stringify(m[0] ?? null));
  const pick = (keys: string[]) =>
    onSelect(
      keys.length === 0
        ? undefined
        : { ...(selection?.exclude ? { exclude: true } : {}), members: keys.map((k) => [JSON.parse(k) as Value]) },
    );
  const common = {
    data: options,
    searchable: true,
    clearable: true,
    limit: 200,
    'aria-label': tile.title,
    nothingFoundMessage: 'No such member',
    size: 'sm',
    className: classes.control,
  } as const;
  return tile.pick === 'one' ? (
    <Select
      {...common}
      placeholder="All"
      value={picked[0] ?? null}
      onChange={(key) => pick(key === null ? [] : [key])}
    />
  ) : (
    <MultiSelect
      {...common}
      placeholder={picked.length === 0 ? 'All' : ''}
      value={picked}
      onChange={pick}
      hidePickedOptions={false}
    />
  );
}
