import { Select, TextInput } from '@mantine/core';
import { lazy, type ReactNode, Suspense, useState } from 'react';
import classes from './design.module.css';
import { useDesign } from './useDesign';
import { type Carried, type Dataset, isDate, membersOf, titleOf } from './written';

const FieldValues = lazy(() => import('./FieldValues'));

interface Props {
  datasets: Dataset[];
  /** The dataset that is shown; the reader may choose another. */
  dataset: string | undefined;
  onDataset: (name: string) => void;
  /** What is chosen, where things are chosen. */
  chosen?: string[];
  /** What a click does. */
  onClick: (carried: Carried) => void;
  /** What a click does, in words. */
  hint: string;
}

/** The measures and fields of a dataset: clicked, or carried onto a picture. */
export function FieldList({ datasets, dataset: name, onDataset, chosen = [], onClick, hint }: Props) {
  const [search, setSearch] = useState('');
  const dataset = datasets.find((d) => d.name === name);
  return (
    <section aria-label="Fields" className={classes.fields}>
      <Select
        label="Measures and fields of"
        searchable
        data={datasets.map((d) => ({ value: d.name, label: d.title }))}
        value={name ?? null}
        onChange={(v) => v && onDataset(v)}
        allowDeselect={false}
      />
      <TextInput
        aria-label="Search measures and fields"
        placeholder="Search"
        value={search}
        onChange={(e) => setSearch(e.currentTarget.value)}
      />
      <p className="quiet">{hint}</p>
      {dataset && <Found dataset={dataset} wanted={search.trim().toLowerCase()} chosen={chosen} onClick={onClick} />}
    </section>
  );
}

interface Choosing {
  dataset: Dataset;
  chosen: string[];
  onClick: Props['onClick'];
}

/** What of a dataset has a text in its name or title. */
function Found({ wanted, ...choosing }: Choosing & { wanted: string }) {
  const { dataset } = choosing;
  const isFound = ({ name, title }: { name: string; title: string }) =>
    !wanted || name.toLowerCase().includes(wanted) || title.toLowerCase().includes(wanted);
  const measures = dataset.measures.filter(isFound);
  const fields = dataset.fields.filter(isFound);
  // One field at a time shows its grains, and one its values.
  const [opened, setOpened] = useState<string>();
  const [held, setHeld] = useState<string>();
  return (
    <div className={classes.fieldLists}>
      {measures.length > 0 && <h4>Measures</h4>}
      <ul>
        {measures.map((m) => (
          <li key={m.name}>
            <Item {...choosing} name={m.name} title={m.title} isMeasure about={m.description ?? m.formula}>
              measure
            </Item>
          </li>
        ))}
      </ul>
      {fields.length > 0 && <h4>Fields</h4>}
      <ul>
        {fields.map((f) => (
          <li key={f.name}>
            <Field
              {...choosing}
              field={f}
              hasGrains={opened === f.name}
              onGrains={() => setOpened(opened === f.name ? undefined : f.name)}
              hasValues={held === f.name}
              onValues={() => setHeld(held === f.name ? undefined : f.name)}
            />
          </li>
        ))}
      </ul>
      {measures.length + fields.length === 0 && <p>Nothing is called so.</p>}
    </div>
  );
}

interface ItemProps extends Choosing {
  name: string;
  title?: string;
  isMeasure?: boolean;
  about?: string | null;
  /** What it is, in small letters. */
  children?: ReactNode;
}

/** A measure, a field or a grain of one: clicked, or carried onto a picture. */
function Item({ dataset, chosen, onClick, name, title, isMeasure = false, about, children }: ItemProps) {
  const carry = useDesign()?.carry;
  const carried = { dataset: dataset.name, name, title: title ?? titleOf(dataset, name), isMeasure };
  return (
    <button
      type="button"
      className={classes.field}
      draggable={carry !== undefined}
      aria-pressed={chosen.length > 0 ? chosen.includes(name) : undefined}
      data-field={name}
      title={about ?? undefined}
      onClick={() => onClick(carried)}
      onDragStart={(e) => {
        e.dataTransfer.effectAllowed = 'copy';
        e.dataTransfer.setData('text/plain', name);
        carry?.(carried);
      }}
      onDragEnd={() => carry?.(undefined)}
    >
      <span>{carried.title}</span>
      <small>{children}</small>
    </button>
  );
}

interface FieldProps extends Choosing {
  field: Dataset['fields'][number];
  hasGrains: boolean;
  onGrains: () => void;
  hasValues: boolean;
  onValues: () => void;
}

/** A field, with its values and, of a date, its grains. */
function Field({ field, hasGrains, onGrains, hasValues, onValues, ...choosing }: FieldProps) {
  const { dataset } = choosing;
  const { name, title, kind, unit, description } = field;
  return (
    <>
      <div className={classes.fieldLine}>
        <Item {...choosing} name={usual(dataset, name)} about={description}>
          {[kind, unit].filter(Boolean).join(', ')}
        </Item>
        {isDate(kind) && (
          <button
            type="button"
            className={classes.link}
            aria-expanded={hasGrains}
            aria-label={`by … other grains of ${title}`}
            onClick={onGrains}
          >
            by …
          </button>
        )}
        <button
          type="button"
          className={classes.link}
          aria-expanded={hasValues}
          aria-label={`values of ${title}`}
          onClick={onValues}
        >
          values
        </button>
      </div>
      {hasValues && (
        <Suspense>
          <FieldValues dataset={dataset.name} field={name} />
        </Suspense>
      )}
      {hasGrains && (
        <ul>
          {membersOf(kind).map((m) => (
            <li key={m}>
              <Item {...choosing} name={`${name}.${m}`} />
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** A date by itself is told by month. */
const usual = (dataset: Dataset, name: string) =>
  isDate(dataset.fields.find((f) => f.name === name)?.kind ?? '') ? `${name}.month` : name;
