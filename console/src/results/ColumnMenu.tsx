import { Button, Checkbox, NumberInput, Popover, Select, TextInput } from '@mantine/core';
import { IconButton } from '../look/IconButton';
import '@mantine/core/styles/NumberInput.css';
import { EllipsisVertical, Filter } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import type { ColumnInfo } from '../api/client';
import { OneOf } from '../look/OneOf';
import { formatOf } from '../model/labels';
import { type ColumnFilter, filterOf, saysNothing } from './columns';
import classes from './results.module.css';

const DayInput = lazy(() => import('../pictures/parts/DayInput').then((m) => ({ default: m.DayInput })));

interface Props {
  column: ColumnInfo;
  filter?: ColumnFilter;
  onFilter: (filter?: ColumnFilter) => void;
  /** The members that stand in it, as they are written. */
  members: () => string[];
  /** What can be done with the column, by its words; left out what can't be now. */
  acts: [string, () => void][];
  weekStarts: string;
  /** True where only a part of the rows is here, so that members can't be listed. */
  isPart?: boolean;
}

/** What can be done with a column of a table: which lines are wanted, and where and how wide it stands. Open once it is there; see MenuButton. */
export default function ColumnMenu(props: Props) {
  const { column, filter } = props;
  const [isOpen, setOpen] = useState(true);
  const all: [string, () => void] = ['All lines again', () => props.onFilter(undefined)];
  const missing: [string, () => void] = ['Only where it is not given', () => props.onFilter({ of: 'missing' })];
  return (
    <Popover opened={isOpen} onChange={setOpen} position="bottom-end" withinPortal trapFocus returnFocus>
      <Popover.Target>
        <IconButton
          size={16}
          className={classes.more}
          aria-label={filter ? `Column ${column.title}, filtered` : `Column ${column.title}`}
          aria-expanded={isOpen}
          data-filtered={filter !== undefined}
          onClick={() => setOpen(!isOpen)}
        >
          {filter ? <Filter size={12} aria-hidden /> : <EllipsisVertical size={12} aria-hidden />}
        </IconButton>
      </Popover.Target>
      <Popover.Dropdown
        className={classes.menu}
        aria-label={`Column ${column.title}`}
        onKeyDown={(e) => e.key === 'Escape' && e.stopPropagation()}
      >
        <Form {...props} />
        <ul>
          {[filter?.of === 'missing' ? all : missing, ...props.acts].map(([words, act]) => (
            <li key={words}>
              <button
                type="button"
                onClick={() => {
                  act();
                  setOpen(false);
                }}
              >
                {words}
              </button>
            </li>
          ))}
        </ul>
      </Popover.Dropdown>
    </Popover>
  );
}

function Form({ column, filter, onFilter, members, isPart, weekStarts }: Props) {
  const of = filterOf(column);
  const say = (next: ColumnFilter) => onFilter(saysNothing(next) ? undefined : next);
  const clear = filter && filter.of !== 'missing' && (
    <Button size="compact-xs" variant="default" onClick={() => onFilter(undefined)}>
      All lines again
    </Button>
  );
  if (of === 'flag') {
    const now = filter?.of === 'flag' ? String(filter.is) : 'all';
    return (
      <OneOf
        aria-label={`Lines by ${column.title}`}
        value={now}
        onChange={(v) => onFilter(v === 'all' ? undefined : { of, is: v === 'true' })}
        data={[
          { value: 'all', label: 'All' },
          { value: 'true', label: 'Yes' },
          { value: 'false', label: 'No' },
        ]}
      />
    );
  }
  if (of === 'number') {
    const now = filter?.of === 'number' ? filter : { of };
    const unit = formatOf(column).unit;
    const number = (v: number | string) => (typeof v === 'number' ? v : undefined);
    return (
      <>
        <NumberInput
          size="xs"
          label={`At least${unit ? `, ${unit}` : ''}`}
          value={now.least ?? ''}
          onChange={(v) => say({ ...now, least: number(v) })}
          data-autofocus
        />
        <NumberInput
          size="xs"
          label={`At most${unit ? `, ${unit}` : ''}`}
          value={now.most ?? ''}
          onChange={(v) => say({ ...now, most: number(v) })}
        />
        {clear}
      </>
    );
  }
  if (of === 'date') {
    const now = filter?.of === 'date' ? filter : { of };
    return (
      <>
        <Suspense>
          <DayInput
            label="From"
            value={now.from ?? ''}
            weekStarts={weekStarts}
            onChange={(from) => say({ ...now, from })}
          />
          <DayInput label="To" value={now.to ?? ''} weekStarts={weekStarts} onChange={(to) => say({ ...now, to })} />
        </Suspense>
        {clear}
      </>
    );
  }
  return (
    <TextForm
      key={column.name}
      column={column}
      filter={filter}
      say={say}
      members={members}
      isPart={isPart}
      clear={clear}
    />
  );
}

/** So many members are offered at once; the others are found by a piece of their name. */
const most = 100;

function TextForm({
  column,
  filter,
  say,
  members,
  isPart,
  clear,
}: Pick<Props, 'column' | 'filter' | 'members' | 'isPart'> & {
  say: (next: ColumnFilter) => void;
  clear: React.ReactNode;
}) {
  const [now, setNow] = useState<ColumnFilter & { of: 'text' }>(
    filter?.of === 'text' ? filter : { of: 'text', how: 'contains', text: '', members: [] },
  );
  const [all] = useState(members);
  const change = (part: Partial<typeof now>) => {
    const next = { ...now, ...part };
    setNow(next);
    say(next);
  };
  const piece = now.text.trim().toLowerCase();
  const found = now.how === 'is' ? all.filter((m) => m.toLowerCase().includes(piece)).slice(0, most) : [];
  return (
    <>
      <Select
        size="xs"
        aria-label={`How ${column.title} is filtered`}
        data={[
          { value: 'contains', label: 'Contains' },
          { value: 'begins', label: 'Begins with' },
          ...(isPart ? [] : [{ value: 'is', label: 'Is one of' }]),
        ]}
        value={now.how}
        allowDeselect={false}
        comboboxProps={{ withinPortal: false }}
        onChange={(how) => change({ how: how as typeof now.how })}
      />
      <TextInput
        size="xs"
        aria-label={now.how === 'is' ? 'Find' : `Text in ${column.title}`}
        placeholder={now.how === 'is' ? 'Find' : ''}
        value={now.text}
        onChange={(e) => change({ text: e.currentTarget.value })}
        data-autofocus
      />
      {now.how === 'is' && (
        <div className={classes.members} role="group" aria-label={`Members of ${column.title}`}>
          {found.map((m) => (
            <Checkbox
              key={m}
              size="xs"
              label={m}
              checked={now.members.includes(m)}
              onChange={(e) =>
                change({
                  members: e.currentTarget.checked ? [...now.members, m] : now.members.filter((x) => x !== m),
                })
              }
            />
          ))}
        </div>
      )}
      {clear}
    </>
  );
}
