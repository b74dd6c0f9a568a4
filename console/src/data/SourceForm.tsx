import { Button, Checkbox, Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import { api, type FaultInfo, type SourceStep, unwrap } from '../api/client';
import classes from './data.module.css';
import { nameOf } from './draft';

const engines = [
  { value: 'postgresql', label: 'PostgreSQL' },
  { value: 'mariadb', label: 'MariaDB' },
  { value: 'mysql', label: 'MySQL' },
  { value: 'sqlserver', label: 'SQL Server' },
  { value: 'duckdb', label: 'DuckDB file' },
  { value: 'sqlite', label: 'SQLite file' },
  { value: 'files', label: 'Folder of CSV, Parquet and XLSX files' },
];

const empty = {
  name: '',
  engine: 'postgresql',
  file: '',
  host: '',
  port: '',
  database: '',
  user: '',
  secret: '',
  tls: true,
};

/** The definition of a source as text. */
export function writeSource(s: typeof empty): string {
  const lines = [`source: ${nameOf(s.name)}`, `engine: ${s.engine}`];
  if (s.engine === 'duckdb' || s.engine === 'sqlite') lines.push(`file: ${JSON.stringify(s.file)}`);
  else if (s.engine === 'files') lines.push(`folder: ${JSON.stringify(s.file)}`);
  else {
    lines.push(`host: ${JSON.stringify(s.host)}`);
    if (s.port) lines.push(`port: ${s.port}`);
    lines.push(`database: ${JSON.stringify(s.database)}`, `user: ${JSON.stringify(s.user)}`);
    if (s.secret) lines.push(`password: \${secret:${s.secret}}`);
    lines.push(`tls: ${s.tls}`);
  }
  return `${lines.join('\n')}\n`;
}

/**
 * Adds a source: say where it is, test it, save it. A password is never typed here: it is named as a secret.
 * @param props.onSaved Is told its name, and what of it did not come into the team's folder.
 */
export function SourceForm({
  onSaved,
  onCancel,
}: {
  onSaved: (name: string, beside: string[] | null) => void;
  onCancel: () => void;
}) {
  const [source, setEntered] = useState(empty);
  const [steps, setSteps] = useState<SourceStep[]>();
  const [faults, setFaults] = useState<FaultInfo[]>([]);
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  // What was tested is what is saved: a change makes the test one of something else.
  const setSource = (next: typeof empty) => {
    setEntered(next);
    setSteps(undefined);
    setFaults([]);
  };
  const text = writeSource(source);
  async function act(what: () => Promise<void>) {
    setBusy(true);
    setProblem(undefined);
    try {
      await what();
    } catch (e) {
      setProblem(e instanceof Error ? e.message : String(e));
    }
    setBusy(false);
  }
  const test = () =>
    act(async () => {
      const answer = await unwrap(api.POST('/api/sources/test', { body: { text } }));
      setFaults(answer.faults);
      setSteps(answer.steps);
    });
  const save = () =>
    act(async () => {
      const name = nameOf(source.name);
      const answer = await unwrap(
        api.PUT('/api/definitions/file', { body: { path: `sources/${name}.yaml`, text, replace: false } }),
      );
      setFaults(answer.faults.filter((f) => f.severity === 'error'));
      if (answer.accepted) onSaved(name, answer.beside ?? null);
    });

  return (
    <div className={classes.form}>
      <Entries source={source} onChange={setSource} />
      {faults.map((f) => (
        <p key={`${f.line}${f.message}`} role="alert" className={classes.fault}>
          {f.message} {f.remedy}
        </p>
      ))}
      {problem && (
        <p role="alert" className={classes.fault}>
          {problem}
        </p>
      )}
      {steps && <Steps steps={steps} />}
      <div className={classes.buttons}>
        <Button size="xs" variant="default" loading={busy} disabled={!source.name} onClick={test}>
          Test it
        </Button>
        <Button size="xs" disabled={!source.name || !steps || steps.some((s) => s.state === 'failed')} onClick={save}>
          Save the source
        </Button>
        <Button size="xs" variant="subtle" onClick={onCancel}>
          Cancel
        </Button>
      </div>
    </div>
  );
}

/** Where it is, by what its engine needs to be told. */
function Entries({ source, onChange }: { source: typeof empty; onChange: (next: typeof empty) => void }) {
  const isServer = !['duckdb', 'sqlite', 'files'].includes(source.engine);
  const field = (key: keyof typeof empty, label: string, hint?: string) => (
    <TextInput
      size="xs"
      label={label}
      description={hint}
      value={String(source[key])}
      onChange={(e) => onChange({ ...source, [key]: e.currentTarget.value })}
    />
  );
  return (
    <div className={classes.fields}>
      {field('name', 'Name')}
      <Select
        size="xs"
        label="Engine"
        data={engines}
        value={source.engine}
        allowDeselect={false}
        onChange={(engine) => onChange({ ...source, engine: engine ?? 'postgresql' })}
      />
      {!isServer && field('file', source.engine === 'files' ? 'Folder' : 'File', 'In the service’s folder of files')}
      {isServer && field('host', 'Host')}
      {isServer && field('port', 'Port', 'The engine’s own if empty')}
      {isServer && field('database', 'Database')}
      {isServer && field('user', 'Login', 'It needs to read only')}
      {isServer && field('secret', 'Secret with its password', 'A file in the service’s folder of secrets')}
      {isServer && (
        <Checkbox
          size="xs"
          label="Encrypted, the certificate checked"
          checked={source.tls}
          onChange={(e) => onChange({ ...source, tls: e.currentTarget.checked })}
        />
      )}
    </div>
  );
}

const marks: Record<string, string> = { ok: '✓', warning: '!', failed: '✗' };

/** What a test found, step by step. */
export function Steps({ steps }: { steps: SourceStep[] }) {
  return (
    <ol className={classes.steps} aria-label="Steps of the test">
      {steps.map((s) => (
        <li key={s.step + s.message} data-state={s.state}>
          <b aria-hidden>{marks[s.state]}</b> <span className="hidden-visually">{s.state}: </span>
          {s.message} {s.state !== 'ok' && s.remedy && <span className="quiet">{s.remedy}</span>}
        </li>
      ))}
    </ol>
  );
}
