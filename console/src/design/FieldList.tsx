import { Select, TextInput } from '@mantine/core';
import { lazy, Suspense, useState } from 'react';
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
  const carry = useDesign()?.carry;
  const [search, setSearch] = useState('');
  const [opened, setOpened] = useState<string>();
  const [held, setHeld] = useState<string>();
  const dataset = datasets.find((d) => d.name === name);
  const wanted = search.trim().toLowerCase();
  const found = (n: string, title: string) =>
    !wanted || n.toLowerCase().includes(wanted) || title.toLowerCase().includes(wanted);
  const measures = dataset?.measures.filter((m) => found(m.name, m.title)) ?? [];
  const fields = dataset?.fields.filter((f) => found(f.name, f.title)) ?? [];
  const item = (carried: Carried, about: string | null | undefined, detail: string) => (
    <button
      type="button"
      className={classes.field}
      draggable={carry !== undefined}
      aria-pressed={chosen.length > 0 ? chosen.includes(carried.name) : undefined}
      data-field={carried.name}
      title={about ?? undefined}
      onClick={() => onClick(carried)}
      onDragStart={(e) => {
        e.dataTransfer.effectAllowed = 'copy';
        e.dataTransfer.setData('text/plain', carried.name);
        carry?.(carried);
      }}
      onDragEnd={() => carry?.(undefined)}
    >
      <span>{carried.title}</span>
      <small>{detail}</small>
    </button>
  );
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
      {dataset && (
        <div className={classes.fieldLists}>
          {measures.length > 0 && <h4>Measures</h4>}
          <ul>
            {measures.map((m) => (
              <li key={m.name}>
                {item(
                  { dataset: dataset.name, name: m.name, title: m.title, isMeasure: true },
                  m.description ?? m.formula,
                  'measure',
                )}
              </li>
            ))}
          </ul>
          {fields.length > 0 && <h4>Fields</h4>}
          <ul>
            {fields.map((f) => (
              <li key={f.name}>
                <div className={classes.fieldLine}>
                  {item(
                    {
                      dataset: dataset.name,
                      name: usual(dataset, f.name),
                      title: titleOf(dataset, usual(dataset, f.name)),
                      isMeasure: false,
                    },
                    f.description,
                    [f.kind, f.unit].filter(Boolean).join(', '),
                  )}
                  {isDate(f.kind) && (
                    <button
                      type="button"
                      className={classes.link}
                      aria-expanded={opened === f.name}
                      aria-label={`by … other grains of ${f.title}`}
                      onClick={() => setOpened(opened === f.name ? undefined : f.name)}
                    >
                      by …
                    </button>
                  )}
                  <button
                    type="button"
                    className={classes.link}
                    aria-expanded={held === f.name}
                    aria-label={`values of ${f.title}`}
                    onClick={() => setHeld(held === f.name ? undefined : f.name)}
                  >
                    values
                  </button>
                </div>
                {held === f.name && (
                  <Suspense>
                    <FieldValues dataset={dataset.name} field={f.name} />
                  </Suspense>
                )}
                {opened === f.name && (
                  <ul>
                    {membersOf(f.kind).map((m) => (
                      <li key={m}>
                        {item(
                          {
                            dataset: dataset.name,
                            name: `${f.name}.${m}`,
                            title: titleOf(dataset, `${f.name}.${m}`),
                            isMeasure: false,
                          },
                          null,
                          '',
                        )}
                      </li>
                    ))}
                  </ul>
                )}
              </li>
            ))}
          </ul>
          {measures.length + fields.length === 0 && <p>Nothing is called so.</p>}
        </div>
      )}
    </section>
  );
}

/** A date by itself is told by month. */
const usual = (dataset: Dataset, name: string) =>
  isDate(dataset.fields.find((f) => f.name === name)?.kind ?? '') ? `${name}.month` : name;
