import { MultiSelect, Select } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useEffect, useMemo, useState } from 'react';
import type { Value } from '../../api/client';
import { isWords, label } from '../../model/labels';
import type { Found } from '../../model/members';
import classes from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';

/** What was found of very many members. */
interface Finding {
  /** Whether there are more members than were sent. */
  hasMore: boolean;
  found: (Found & { piece: string }) | undefined;
  fault: string | undefined;
  /** Whether what is typed is still looked for. */
  isLooking: boolean;
}

/** Finds the members that contain what is typed, where not all of them were sent. */
function useFinding({ result, onFind }: PictureProps, typed: string): Finding {
  const given = result.table.columns[0];
  const hasMore = result.lines > (result.table.values[0] ?? []).length && given !== undefined && isWords(given);
  const [piece] = useDebouncedValue(typed, 200);
  const [found, setFound] = useState<Found & { piece: string }>();
  const [fault, setFault] = useState<string>();
  // Asked for anew too when other filters changed what there is: then the result is another.
  useEffect(() => {
    setFault(undefined);
    if (!hasMore || piece === '' || !result.readAt) {
      setFound(undefined);
      return;
    }
    const control = new AbortController();
    onFind(piece, control.signal).then(
      (answer) => setFound({ ...answer, piece }),
      (error: Error) => !control.signal.aborted && setFault(error.message),
    );
    return () => control.abort();
  }, [hasMore, piece, onFind, result]);
  const isLooking = hasMore && piece !== '' && (piece !== found?.piece || piece !== typed);
  return { hasMore, found, fault, isLooking };
}

/** The members to choose from, those that are picked among them. */
function useOptions({ tile, result }: PictureProps, picked: Value[], { found, hasMore }: Finding) {
  const given = result.table.columns[0];
  const values = found?.members ?? result.table.values[0] ?? none;
  const column = useMemo(
    () => given && { ...given, names: { ...tile.by[0]?.names, ...given.names, ...found?.names } },
    [given, found, tile],
  );
  return useMemo(() => {
    if (!column) return [];
    const keys = new Set(values.map((v) => JSON.stringify(v)));
    const others = picked.filter((v) => !keys.has(JSON.stringify(v)));
    // Of members that were not sent nobody knows here whether they have rows.
    const mark = hasMore ? '' : ' (no rows now)';
    return [
      ...values.map((v) => ({ value: JSON.stringify(v), label: label(v, column) })),
      ...others.map((v) => ({ value: JSON.stringify(v), label: `${label(v, column)}${mark}` })),
    ];
  }, [values, column, picked, hasMore]);
}

const none: Value[] = [];
const count = (n: number) => n.toLocaleString('en-US');

/** What is said of what is typed. It stands below the entry, not in the list: a screen reader is not told of a list without options. */
function hintOf({ found, fault, isLooking }: Finding, fits: boolean): string | undefined {
  if (fault !== undefined || isLooking) return fault ?? 'Looking …';
  if (!fits) return 'No such member';
  return found && found.lines > found.members.length
    ? `The first ${count(found.members.length)} of ${count(found.lines)} that contain “${found.piece}”.`
    : undefined;
}

/**
 * A control: pick members from a list. What was picked before and has no rows now stays, marked. Of more members than were
 * sent, those that contain what is typed are looked for at the service.
 */
export default function DropdownPicture(props: PictureProps) {
  const { tile, result, selection, onSelect } = props;
  const [typed, setTyped] = useState('');
  const picked = useMemo(() => (selection?.members ?? []).map((m) => m[0] ?? null), [selection]);
  const finding = useFinding(props, typed.trim());
  const options = useOptions(props, picked, finding);
  const pick = (keys: string[]) =>
    onSelect(
      keys.length === 0
        ? undefined
        : { ...(selection?.exclude ? { exclude: true } : {}), members: keys.map((k) => [JSON.parse(k) as Value]) },
    );
  const fits = options.some((o) => o.label.toLowerCase().includes(typed.trim().toLowerCase()));
  const hint = hintOf(finding, fits);
  const common = {
    data: options,
    searchable: true,
    clearable: !tile.isRequired,
    limit: 200,
    'aria-label': tile.title,
    size: 'sm',
    className: classes.control,
    searchValue: typed,
    onSearchChange: setTyped,
    error: finding.fault !== undefined,
  } as const;
  const placeholder = finding.hasMore ? `All of ${count(result.lines)}` : 'All';
  return (
    <>
      {tile.pick === 'one' ? (
        <Select
          {...common}
          allowDeselect={!tile.isRequired}
          placeholder={placeholder}
          value={picked.length > 0 ? JSON.stringify(picked[0]) : null}
          onChange={(key) => pick(key === null ? [] : [key])}
        />
      ) : (
        <MultiSelect
          {...common}
          placeholder={picked.length === 0 ? placeholder : ''}
          value={picked.map((v) => JSON.stringify(v))}
          onChange={pick}
          hidePickedOptions={false}
        />
      )}
      {hint && typed !== '' && (
        <p className="quiet" style={{ margin: '4px 0 0' }} role={finding.fault ? 'alert' : 'status'}>
          {hint}
        </p>
      )}
    </>
  );
}
