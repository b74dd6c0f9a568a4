import { Button, TextInput } from '@mantine/core';
import { lazy, Suspense, useEffect, useMemo, useState } from 'react';
import type { Schemas } from '../api/client';
import design from '../design/design.module.css';
import { KeyForm } from '../design/KeyForm';
import type { Desk } from '../design/useDesk';
import { type Said, type Step, word } from '../design/written';
import classes from './data.module.css';
import { nameOf } from './draft';
import { FormatForm } from './FormatForm';
import type { FormulaWords } from './FormulaEditor';
import { FormulaForm } from './FormulaForm';
import { type Part, partsOf } from './parts';

const ColoursForm = lazy(() => import('./ColoursForm'));
const TablesPanel = lazy(() => import('./TablesPanel'));
const QueryPanel = lazy(() => import('./QueryPanel'));
const RenameDialog = lazy(() => import('../design/RenameDialog'));

interface Props {
  desk: Desk;
  keys: Schemas['DatasetKeysInfo'] | undefined;
  words: FormulaWords;
}

/** A dataset by hand: what it is called, its measures and fields, each with all that can be said of it. */
export default function DatasetByHand({ desk, keys, words }: Props) {
  const { draft } = desk.work;
  const said = draft.written?.said as { [key: string]: Said } | undefined;
  const parts = useMemo(() => partsOf(said), [said]);
  const [chosen, setChosen] = useState<{ isMeasure: boolean; name: string }>();
  const [isNew, setNew] = useState<'measure' | 'field'>();
  // How it was searched stays while one of its parts is looked at.
  const [search, setSearch] = useState('');
  if (!said || !keys)
    return <p className="quiet">While the text can’t be read, nothing can be changed by hand. Mend it as text.</p>;
  const part = parts.find((p) => chosen && p.isMeasure === chosen.isMeasure && p.name === chosen.name);
  /** What can stand in a formula: measures only in those of measures, and nothing in its own. */
  const wordsIn = (isMeasure: boolean, own?: string): FormulaWords => ({
    ...words,
    names: words.names.filter((n) => n.name !== own && (isMeasure || n.kind !== 'measure')),
  });
  const write = (at: string[]) => (value: Said | number | boolean | undefined) =>
    desk.take([value === undefined ? { do: 'remove', at } : { do: 'set', at, value: value }]);

  if (part)
    return (
      <PartForm
        key={`${part.isMeasure} ${part.name}`}
        part={part}
        dataset={desk.name}
        hasDraft={draft.isDraft}
        text={draft.text}
        keys={part.isMeasure ? keys.measure : keys.field}
        words={wordsIn(part.isMeasure, part.name)}
        by={lookedAtBy(parts)}
        write={write}
        take={(steps) => void desk.take(steps)}
        onKeep={(formula) => desk.take([{ do: 'set', at: [...part.at, 'formula'], value: formula }])}
        onTakeOut={() => {
          setChosen(undefined);
          void desk.take([{ do: 'remove', at: part.at }]);
        }}
        onBack={() => setChosen(undefined)}
      />
    );
  if (isNew)
    return (
      <NewPart
        isMeasure={isNew === 'measure'}
        taken={parts.map((p) => p.name)}
        text={draft.text}
        words={wordsIn(isNew === 'measure')}
        by={lookedAtBy(parts)}
        onBack={() => setNew(undefined)}
        onAdd={async (name, title, formula) => {
          const section = isNew === 'measure' ? 'measures' : 'fields';
          const value = title ? { formula, title } : { formula };
          const isStored = await desk.take([{ do: 'set', at: [section, name], value: value }]);
          if (isStored) {
            setNew(undefined);
            setChosen({ isMeasure: isNew === 'measure', name });
          }
          return isStored;
        }}
      />
    );
  return (
    <Overview
      {...{ said, parts, keys, search }}
      onSearch={setSearch}
      take={desk.take}
      onChoose={setChosen}
      onNew={setNew}
    />
  );
}

/** By what a formula's figures are looked at: what texts tell apart first, since numbers have too many values. */
function lookedAtBy(parts: Part[]): string[] {
  const isDate = (type: string | undefined) => type === 'date' || type === 'timestamp';
  const by = parts.flatMap(({ isMeasure, name, type }) =>
    isMeasure ? [] : isDate(type) ? [`${name}.year`, `${name}.month`] : [name],
  );
  const typeOf = (of: string) => parts.find((p) => p.name === of.split('.')[0])?.type;
  return by.sort((a, b) => Number(typeOf(a) !== 'text') - Number(typeOf(b) !== 'text'));
}

interface OverviewProps {
  said: { [key: string]: Said };
  parts: Part[];
  keys: Schemas['DatasetKeysInfo'];
  search: string;
  onSearch: (search: string) => void;
  take: Desk['take'];
  onChoose: (part: { isMeasure: boolean; name: string }) => void;
  onNew: (what: 'measure' | 'field') => void;
}

/** All of a dataset: its measures and fields, the tables beside them, and what is said of itself. */
function Overview({ said, parts, keys, search, onSearch, take, onChoose, onNew }: OverviewProps) {
  const wanted = search.trim().toLowerCase();
  const found = parts.filter((p) => !wanted || p.name.includes(wanted) || p.title.toLowerCase().includes(wanted));
  const general = keys.dataset.filter((k) => !['dataset', 'fields', 'measures', 'query'].includes(k.name));
  return (
    <div className={design.form} data-by-hand>
      <div className={design.bar}>
        <Button size="compact-sm" onClick={() => onNew('measure')}>
          New measure
        </Button>
        <Button size="compact-sm" variant="default" onClick={() => onNew('field')}>
          New field by formula
        </Button>
      </div>
      <TextInput
        aria-label="Search"
        placeholder="Search"
        value={search}
        onChange={(e) => onSearch(e.currentTarget.value)}
      />
      <Parts title="Measures" of={found.filter((p) => p.isMeasure)} onChoose={onChoose} />
      <Parts title="Fields" of={found.filter((p) => !p.isMeasure)} onChoose={onChoose} />
      <Tables said={said} parts={parts} take={take} />
      <details>
        <summary>The dataset itself</summary>
        <div className={design.form}>
          {general.map((k) => (
            <KeyForm
              key={k.name}
              of={k}
              value={said[k.name]}
              isNeeded={k.name === 'source'}
              suggestions={[]}
              at={[k.name]}
              take={(steps) => void take(steps)}
            />
          ))}
        </div>
      </details>
    </div>
  );
}

/** Measures or fields; a click on one shows all that is said of it. */
function Parts({ title, of, onChoose }: { title: string; of: Part[]; onChoose: OverviewProps['onChoose'] }) {
  return (
    <>
      <h3 className={design.formTitle}>{title}</h3>
      <ul className={classes.parts} aria-label={title}>
        {of.map((p) => (
          <li key={p.name}>
            <button type="button" className={`${design.field} ${classes.part}`} onClick={() => onChoose(p)}>
              <span>{p.title || p.name}</span>
              <small>{p.formula ?? `${p.column ?? ''}${p.type ? `, ${p.type}` : ''}`}</small>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

/** The tables of its source, asked for once they are wanted; of a dataset by a query beside the query. */
function Tables({ said, parts, take }: Pick<OverviewProps, 'said' | 'parts' | 'take'>) {
  const [isBrowsing, setBrowsing] = useState(false);
  const isQuery = said.query !== undefined;
  return (
    <details onToggle={(e) => setBrowsing(e.currentTarget.open)}>
      <summary>
        {isQuery ? 'Its query, beside the tables of its source' : 'Tables of its source, to add fields and lookups'}
      </summary>
      {isBrowsing && (
        <Suspense>
          {isQuery ? (
            <QueryPanel said={said} parts={parts} take={take} />
          ) : (
            <TablesPanel said={said} parts={parts} take={take} />
          )}
        </Suspense>
      )}
    </details>
  );
}

/** The way back to the list; what was written of a formula and not kept is asked about before it is gone. */
function Back({ isUnkept, onBack }: { isUnkept: boolean; onBack: () => void }) {
  const [asks, setAsks] = useState(false);
  useEffect(() => {
    if (!isUnkept) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [isUnkept]);
  if (asks && isUnkept)
    return (
      <span role="alert">
        The formula that you wrote is not kept.{' '}
        <button type="button" className={design.link} onClick={onBack}>
          Leave without it
        </button>{' '}
        <button type="button" className={design.link} onClick={() => setAsks(false)}>
          Stay
        </button>
      </span>
    );
  return (
    <button type="button" className={design.link} onClick={() => (isUnkept ? setAsks(true) : onBack())}>
      All fields and measures
    </button>
  );
}

interface PartProps {
  part: Part;
  dataset: string;
  hasDraft: boolean;
  text: string;
  keys: Schemas['DefinitionKeyInfo'][];
  words: FormulaWords;
  by: string[];
  /** Gives a place a value, or takes it out. True once that is stored. */
  write: (at: string[]) => (value: Said | number | boolean | undefined) => Promise<boolean>;
  take: (steps: Step[]) => void;
  onKeep: (formula: string) => Promise<boolean>;
  onTakeOut: () => void;
  onBack: () => void;
}

/** What can be said of a field or measure: first what most need, the rest behind More. */
const first = ['title', 'description', 'type', 'unit', 'format', 'concept'];

function PartForm({
  part,
  dataset,
  hasDraft,
  text,
  keys,
  words,
  by,
  write,
  take,
  onKeep,
  onTakeOut,
  onBack,
}: PartProps) {
  const [isNaming, setNaming] = useState(false);
  const [isUnkept, setUnkept] = useState(false);
  return (
    <section
      className={design.form}
      aria-label={`The ${part.isMeasure ? 'measure' : 'field'} ${part.name}`}
      data-by-hand
    >
      <div className={design.bar}>
        <Back isUnkept={isUnkept} onBack={onBack} />
      </div>
      <h3 className={design.formTitle}>
        {part.title || part.name} <code>{part.name}</code>
      </h3>
      {part.formula !== undefined && (
        <FormulaForm
          key={part.formula}
          text={text}
          name={part.name}
          isMeasure={part.isMeasure}
          formula={part.formula}
          words={words}
          by={by.filter((b) => b.split('.')[0] !== part.name)}
          keep="Keep this formula"
          onWritten={setUnkept}
          onKeep={async (formula) => {
            const isStored = await onKeep(formula);
            if (isStored) setUnkept(false);
            return isStored;
          }}
        />
      )}
      <PartKeys part={part} text={text} keys={keys} write={write} take={take} />
      <div className={design.bar}>
        <Button size="compact-sm" variant="default" onClick={() => setNaming(true)}>
          Another name for {part.name} …
        </Button>
        <span className="quiet">It changes wherever {part.name} is named, in views of viewers too.</span>
      </div>
      <div className={design.bar}>
        <Button size="compact-sm" variant="subtle" color="red" onClick={onTakeOut}>
          Take it out
        </Button>
        <span className="quiet">What needs it is told below, with its place; Undo brings it back.</span>
      </div>
      {isNaming && (
        <Suspense>
          <RenameDialog
            of={{
              kind: part.isMeasure ? 'measure' : 'field',
              name: part.name,
              dataset,
              isTitle: part.says.title === undefined,
            }}
            hasDraft={hasDraft}
            onDone={() => window.location.reload()}
            onClose={() => setNaming(false)}
          />
        </Suspense>
      )}
    </section>
  );
}

/** All that is said of a part beside its formula: what is asked for most stands first. */
function PartKeys({ part, text, keys, write, take }: Pick<PartProps, 'part' | 'text' | 'keys' | 'write' | 'take'>) {
  const [isColouring, setColouring] = useState(false);
  const form = (key: Schemas['DefinitionKeyInfo']) =>
    key.name === 'format' ? (
      <FormatForm
        key={key.name}
        of={key}
        value={word(part.says.format)}
        unit={word(part.says.unit)}
        isDate={part.type === 'date' || part.type === 'timestamp'}
        onWrite={write([...part.at, 'format'])}
      />
    ) : (
      <KeyForm
        key={key.name}
        of={key}
        value={part.says[key.name]}
        isNeeded={false}
        suggestions={[]}
        at={[...part.at, key.name]}
        take={take}
      />
    );
  const others = keys.filter((k) => k.name !== 'formula');
  const rest = others.filter((k) => !first.includes(k.name) && k.name !== 'colours');
  return (
    <div className={design.form}>
      {first.flatMap((n) => others.filter((k) => k.name === n)).map(form)}
      {!part.isMeasure && keys.some((k) => k.name === 'colours') && (
        <details onToggle={(e) => setColouring(e.currentTarget.open)}>
          <summary>Colours of its members</summary>
          {isColouring && (
            <Suspense>
              <ColoursForm
                text={text}
                field={part.name}
                value={part.says.colours}
                onWrite={write([...part.at, 'colours'])}
              />
            </Suspense>
          )}
        </details>
      )}
      {rest.length > 0 && (
        <details>
          <summary>More</summary>
          <div className={design.form}>{rest.map(form)}</div>
        </details>
      )}
    </div>
  );
}

interface NewProps {
  isMeasure: boolean;
  taken: string[];
  text: string;
  words: FormulaWords;
  by: string[];
  onAdd: (name: string, title: string, formula: string) => Promise<boolean>;
  onBack: () => void;
}

function NewPart({ isMeasure, taken, text, words, by, onAdd, onBack }: NewProps) {
  const [title, setTitle] = useState('');
  const [isUnkept, setUnkept] = useState(false);
  const name = title.trim() === '' ? '' : nameOf(title.toLowerCase());
  const isTaken = taken.includes(name);
  return (
    <section className={design.form} aria-label={isMeasure ? 'New measure' : 'New field'} data-by-hand>
      <div className={design.bar}>
        <Back isUnkept={isUnkept} onBack={onBack} />
      </div>
      <TextInput
        label="Title"
        description={name ? `Formulas and tiles name it ${name}.` : 'What viewers see.'}
        error={isTaken && `There is a ${name} already.`}
        value={title}
        maxLength={120}
        onChange={(e) => setTitle(e.currentTarget.value)}
        data-autofocus
      />
      <FormulaForm
        text={text}
        name={name && !isTaken ? name : 'new_one'}
        isMeasure={isMeasure}
        formula=""
        words={words}
        by={by}
        keep={isMeasure ? 'Add the measure' : 'Add the field'}
        onWritten={setUnkept}
        onKeep={(formula) => (name && !isTaken ? onAdd(name, title.trim(), formula) : Promise.resolve(false))}
      />
    </section>
  );
}
