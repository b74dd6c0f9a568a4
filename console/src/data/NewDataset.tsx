import { Button, Checkbox, Select, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, type ReactNode, Suspense, useMemo, useRef, useState } from 'react';
import { Link } from 'wouter';
import { api, type FaultInfo, type TableDetail, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { Beside } from '../design/Beside';
import { OneOf } from '../look/OneOf';
import { Header } from '../session/Header';
import classes from './data.module.css';
import { type Draft, type DraftField, emptyDraft, fieldsOf, joinsOf, measuresOf, nameOf, writeDraft } from './draft';
import { Preview } from './Preview';
import { SourceForm } from './SourceForm';
import type { SqlWriting } from './SqlEditor';
import { SqlTables } from './SqlTables';
import { table, useSqlSchema, useTables } from './useSqlSchema';

const SqlEditor = lazy(() => import('./SqlEditor'));
const GrantDataset = lazy(() => import('./GrantDataset'));

/** From nothing to a dataset: source, tables or SQL, fields and measures, a look at the rows, the text, saved. */
export default function NewDataset() {
  const [draft, setDraft] = useState<Draft>(emptyDraft);
  const [way, setWay] = useState('tables');
  const [adding, setAdding] = useState(false);
  const text = writeDraft(draft);
  const [settled] = useDebouncedValue(text, 400);
  const change: Change = (part) => setDraft((d) => ({ ...d, ...(typeof part === 'function' ? part(d) : part) }));
  const sources = useQuery({ queryKey: ['sources'], queryFn: () => unwrap(api.GET('/api/sources')) });
  const queries = useQueryClient();
  const [besideSource, setBesideSource] = useState<string[] | null>(null);
  const engine = sources.data?.find((s) => s.name === draft.source)?.engine ?? '';
  const hasRows = draft.source !== '' && draft.fields.length > 0;

  return (
    <>
      <Header title="New dataset" back />
      <main className={classes.page}>
        <Step number={1} title="Where are the data?">
          {adding ? (
            <SourceForm
              onCancel={() => setAdding(false)}
              onSaved={async (name, beside) => {
                await queries.invalidateQueries({ queryKey: ['sources'] });
                setBesideSource(beside);
                setAdding(false);
                setDraft({ ...emptyDraft, source: name });
              }}
            />
          ) : (
            <div className={classes.buttons}>
              <Select
                size="xs"
                aria-label="Source"
                placeholder="Choose a source"
                data={sources.data?.map((s) => ({ value: s.name, label: s.title })) ?? []}
                value={draft.source || null}
                onChange={(source) => setDraft({ ...emptyDraft, source: source ?? '' })}
              />
              <Button size="xs" variant="default" onClick={() => setAdding(true)}>
                Add a source
              </Button>
            </div>
          )}
          <Beside told={besideSource} />
        </Step>
        {draft.source && !adding && (
          <Step number={2} title="Which rows?">
            <OneOf
              aria-label="How to say which rows"
              mb={8}
              value={way}
              onChange={(to) => {
                setWay(to);
                setDraft({ ...emptyDraft, source: draft.source });
              }}
              data={[
                { value: 'tables', label: 'From tables' },
                { value: 'query', label: 'Write SQL' },
              ]}
            />
            {way === 'tables' ? (
              <Tables draft={draft} change={change} />
            ) : (
              <Query draft={draft} engine={engine} change={change} />
            )}
          </Step>
        )}
        {hasRows && (
          <>
            <Step number={3} title="Fields and measures">
              <Fields draft={draft} change={change} />
              <Measures draft={draft} change={change} />
            </Step>
            <Step number={4} title="A look at the rows">
              <Preview text={settled} />
            </Step>
            <Step number={5} title="Save">
              <Save draft={draft} text={text} change={change} />
            </Step>
          </>
        )}
      </main>
    </>
  );
}

function Step({ number, title, children }: { number: number; title: string; children: ReactNode }) {
  return (
    <section className={classes.step} aria-label={title}>
      <h2>
        <span className={classes.number}>{number}</span> {title}
      </h2>
      {children}
    </section>
  );
}

/** Changes some of the draft; by a function if it depends on what the draft is by then. */
type Change = (part: Partial<Draft> | ((draft: Draft) => Partial<Draft>)) => void;

interface PartProps {
  draft: Draft;
  change: Change;
}

function Tables({ draft, change }: PartProps) {
  const tables = useTables(draft.source);
  const [detail, setDetail] = useState<TableDetail>();
  const proposed = useMemo(() => (detail ? joinsOf(detail, tables.data ?? []) : []), [detail, tables.data]);

  const [problem, run] = useTold();
  async function choose(key: string | null) {
    const chosen = tables.data?.find((t) => `${t.schema ?? ''}.${t.name}` === key);
    if (!chosen) return;
    const found = await table(draft.source, chosen.name, chosen.schema);
    const fields = fieldsOf(found, [], true);
    setDetail(found);
    change({
      table: chosen.name,
      schema: isUsual(chosen.schema) ? null : (chosen.schema ?? null),
      joins: [],
      fields,
      measures: measuresOf(found, fields),
      name: draft.name || nameOf(chosen.name),
    });
  }
  async function lookUp(join: (typeof proposed)[number], on: boolean) {
    if (!on) {
      change({
        joins: draft.joins.filter((j) => j.table !== join.table),
        fields: draft.fields.filter((f) => !f.column.startsWith(`${join.table}.`)),
      });
      return;
    }
    change({ joins: [...draft.joins, join] });
    const other = await table(draft.source, join.table, join.schema);
    // Keys of the other table say nothing that the row does not say already.
    change((d) => ({
      fields: [...d.fields, ...fieldsOf(other, d.fields, false).filter((f) => !/(^|[._])id$/i.test(f.column))],
    }));
  }

  return (
    <>
      {(tables.error || problem) && (
        <p role="alert" className={classes.fault}>
          {problem ?? tables.error?.message}
        </p>
      )}
      <Select
        size="xs"
        aria-label="Table"
        placeholder={tables.isLoading ? 'Reading the list of tables …' : 'Choose a table'}
        searchable
        data={tables.data?.map((t) => ({
          value: `${t.schema ?? ''}.${t.name}`,
          label: `${t.name}${isUsual(t.schema) ? '' : ` (${t.schema})`}${t.rows === null ? '' : `, about ${t.rows.toLocaleString('en-US')} rows`}`,
        }))}
        onChange={(key) => run(() => choose(key))}
      />
      {proposed.length > 0 && (
        <fieldset className={classes.joins}>
          <legend>Look up for each row</legend>
          {proposed.map((j) => (
            <Checkbox
              key={j.on}
              size="xs"
              label={
                <>
                  {j.table} <code>{j.on}</code>
                </>
              }
              checked={draft.joins.some((d) => d.on === j.on)}
              onChange={(e) => run(() => lookUp(j, e.currentTarget.checked))}
            />
          ))}
        </fieldset>
      )}
    </>
  );
}

const isUsual = (schema?: string | null) => !schema || ['main', 'public', 'dbo'].includes(schema);

function Query({ draft, engine, change }: PartProps & { engine: string }) {
  const [faults, setFaults] = useState<string[]>([]);
  const [reading, setReading] = useState(false);
  const writing = useRef<SqlWriting>(null);
  const { schema, first } = useSqlSchema(draft.source, draft.query);

  async function run() {
    setReading(true);
    try {
      const answer = await unwrap(
        api.POST('/api/datasets/columns', { body: { text: writeDraft({ ...draft, fields: [], measures: [] }) } }),
      );
      setFaults(answer.faults.filter((f) => f.severity === 'error').map((f) => `${f.message} ${f.remedy ?? ''}`));
      const detail = {
        table: { schema: null, name: 'rows', kind: 'query', rows: null },
        columns: answer.columns,
        references: [],
      };
      const fields = fieldsOf(detail, [], true);
      change({ fields, measures: fields.length > 0 ? measuresOf(detail, fields) : [] });
    } catch (e) {
      setFaults([e instanceof Error ? e.message : String(e)]);
    }
    setReading(false);
  }

  return (
    <>
      <Suspense>
        <div className={classes.sqlBeside}>
          <SqlEditor
            ref={writing}
            value={draft.query}
            engine={engine}
            schema={schema}
            first={first}
            onChange={(query) => change({ query })}
          />
          <SqlTables source={draft.source} onName={(name) => writing.current?.write(name)} />
        </div>
      </Suspense>
      <p className="quiet">
        One SELECT. <code>:user.ports</code> after IN stands for an attribute of the viewer, <code>:param.name</code>{' '}
        for a parameter; they are bound as values.
      </p>
      <Button size="xs" variant="default" loading={reading} disabled={!draft.query.trim()} onClick={run}>
        Read its columns
      </Button>
      {faults.map((f) => (
        <p key={f} role="alert" className={classes.fault}>
          {f}
        </p>
      ))}
    </>
  );
}

const kinds = ['text', 'integer', 'decimal', 'float', 'boolean', 'date', 'timestamp'];

function Fields({ draft, change }: PartProps) {
  const edit = (name: string, part: Partial<DraftField>) =>
    change({ fields: draft.fields.map((f) => (f.name === name ? { ...f, ...part } : f)) });
  return (
    <div className={classes.rows}>
      <table className={classes.edit}>
        <thead>
          <tr>
            <th scope="col">Field</th>
            <th scope="col">Type</th>
            <th scope="col">Title</th>
            <th scope="col">Unit</th>
            <th scope="col">Where missing</th>
            <th scope="col">
              <span className="hidden-visually">Leave out</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {draft.fields.map((f) => (
            <tr key={f.name}>
              <td title={f.column}>{f.name}</td>
              <td>
                <Select
                  size="xs"
                  w={110}
                  aria-label={`Type of ${f.name}`}
                  allowDeselect={false}
                  data={kinds}
                  value={f.type}
                  onChange={(type) =>
                    type && edit(f.name, { type, convert: type !== 'text' && (f.convert || f.type === 'text') })
                  }
                />
                {f.convert && <span className="quiet"> read from text</span>}
              </td>
              <td>
                <TextInput
                  size="xs"
                  aria-label={`Title of ${f.name}`}
                  value={f.title}
                  onChange={(e) => edit(f.name, { title: e.currentTarget.value })}
                />
              </td>
              <td>
                <TextInput
                  size="xs"
                  aria-label={`Unit of ${f.name}`}
                  w={90}
                  value={f.unit}
                  onChange={(e) => edit(f.name, { unit: e.currentTarget.value })}
                />
              </td>
              <td>
                <Select
                  size="xs"
                  w={170}
                  aria-label={`Missing values of ${f.name}`}
                  allowDeselect={false}
                  data={[
                    { value: 'keep', label: 'keep as “not given”' },
                    { value: 'leave_out', label: 'leave the row out' },
                    { value: 'fill', label: 'fill with' },
                  ]}
                  value={f.missing}
                  onChange={(missing) => edit(f.name, { missing: missing as DraftField['missing'] })}
                />
                {f.missing === 'fill' && (
                  <TextInput
                    size="xs"
                    aria-label={`Fill for ${f.name}`}
                    w={90}
                    value={f.fill}
                    onChange={(e) => edit(f.name, { fill: e.currentTarget.value })}
                  />
                )}
              </td>
              <td>
                <Button
                  size="compact-xs"
                  variant="subtle"
                  aria-label={`Leave out ${f.name}`}
                  onClick={() => change({ fields: draft.fields.filter((o) => o.name !== f.name) })}
                >
                  Leave out
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Measures({ draft, change }: PartProps) {
  const edit = (at: number, part: Partial<Draft['measures'][number]>) =>
    change({ measures: draft.measures.map((m, i) => (i === at ? { ...m, ...part } : m)) });
  return (
    <>
      <h3>Measures</h3>
      {draft.measures.map((m, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a measure is told by its place while its name is typed
        <div key={i} className={classes.measure}>
          <TextInput
            size="xs"
            aria-label={`Name of measure ${i + 1}`}
            value={m.name}
            onChange={(e) => edit(i, { name: nameOf(e.currentTarget.value) })}
          />
          <TextInput
            size="xs"
            aria-label={`Formula of measure ${i + 1}`}
            className={classes.formula}
            value={m.formula}
            onChange={(e) => edit(i, { formula: e.currentTarget.value })}
          />
          <TextInput
            size="xs"
            aria-label={`Title of measure ${i + 1}`}
            placeholder="Title"
            value={m.title}
            onChange={(e) => edit(i, { title: e.currentTarget.value })}
          />
          <Button
            size="compact-xs"
            variant="subtle"
            onClick={() => change({ measures: draft.measures.filter((_, at) => at !== i) })}
          >
            Leave out
          </Button>
        </div>
      ))}
      <Button
        size="compact-xs"
        variant="default"
        onClick={() =>
          change({
            measures: [
              ...draft.measures,
              { name: `measure_${draft.measures.length + 1}`, formula: 'count(*)', title: '', format: '' },
            ],
          })
        }
      >
        Add a measure
      </Button>
    </>
  );
}

function Save({ draft, text, change }: PartProps & { text: string }) {
  const [faults, setFaults] = useState<FaultInfo[]>([]);
  const [problem, setProblem] = useState<string>();
  const [saved, setSaved] = useState<string>();
  const [beside, setBeside] = useState<string[]>();
  const queries = useQueryClient();

  async function save() {
    setProblem(undefined);
    try {
      const answer = await unwrap(
        api.PUT('/api/definitions/file', {
          body: { path: `datasets/${draft.name}.yaml`, text, replace: saved === draft.name },
        }),
      );
      setFaults(answer.faults.filter((f) => f.severity === 'error' || f.file === `datasets/${draft.name}.yaml`));
      if (answer.accepted) {
        setSaved(draft.name);
        setBeside(answer.beside ?? undefined);
        await queries.invalidateQueries();
      }
    } catch (e) {
      setProblem(e instanceof Error ? e.message : String(e));
    }
  }

  return (
    <>
      <div className={classes.fields}>
        <TextInput
          size="xs"
          label="Name"
          value={draft.name}
          onChange={(e) => change({ name: nameOf(e.currentTarget.value) })}
        />
        <TextInput
          size="xs"
          label="Title"
          value={draft.title}
          onChange={(e) => change({ title: e.currentTarget.value })}
        />
        <TextInput
          size="xs"
          label="Description"
          value={draft.description}
          onChange={(e) => change({ description: e.currentTarget.value })}
        />
      </div>
      <pre className={classes.text} data-definition>
        {text}
      </pre>
      <div className={classes.buttons}>
        <Button size="xs" disabled={!draft.name} onClick={save}>
          Save the dataset
        </Button>
      </div>
      {problem && (
        <p role="alert" className={classes.fault}>
          {problem}
        </p>
      )}
      {faults
        // Who may read it is asked below.
        .filter((f) => !['unused-definition', 'unread-dataset'].includes(f.code))
        .map((f) => (
          <p
            key={`${f.file}${f.line}${f.message}`}
            role={f.severity === 'error' ? 'alert' : 'status'}
            className={classes.fault}
          >
            {f.message} {f.remedy}
          </p>
        ))}
      {saved && (
        <>
          <p role="status">
            datasets/{saved}.yaml is published. <Link to={`/data/${saved}/change`}>Go on with it</Link>, let roles read
            it, and make <Link to="/">a dashboard</Link> over it.
          </p>
          <Beside told={beside} />
          <Suspense>
            <GrantDataset key={saved} dataset={saved} />
          </Suspense>
        </>
      )}
    </>
  );
}
