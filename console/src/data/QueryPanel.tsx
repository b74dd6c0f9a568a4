import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { api, type Schemas, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import design from '../design/design.module.css';
import { type Said, type Step, word } from '../design/written';
import classes from './data.module.css';
import { emptyDraft, freeNameOf, writeDraft } from './draft';
import type { Part } from './parts';
import SqlEditor, { type SqlWriting } from './SqlEditor';
import { SqlTables } from './SqlTables';
import { useSqlSchema } from './useSqlSchema';

interface Props {
  /** What the dataset's text says. */
  said: { [key: string]: Said };
  parts: Part[];
  take: (steps: Step[]) => Promise<boolean>;
}

/** The query of a dataset: written beside the tables of its source, read for its columns, and kept when that is meant. */
export default function QueryPanel({ said, parts, take }: Props) {
  const source = word(said.source) ?? '';
  const kept = (word(said.query) ?? '').trimEnd();
  const [query, setQuery] = useState(kept);
  // Another step, such as going back, is what is gone on from.
  const [was, setWas] = useState(kept);
  const [edition, setEdition] = useState(0);
  if (was !== kept) {
    setWas(kept);
    if (query !== kept) {
      setQuery(kept);
      setEdition(edition + 1);
    }
  }
  const sources = useQuery({ queryKey: ['sources'], queryFn: () => unwrap(api.GET('/api/sources')) });
  const writing = useRef<SqlWriting>(null);
  const { schema, first } = useSqlSchema(source, query);
  const [read, setRead] = useState<Schemas['ColumnsAnswer']>();
  const [problem, run] = useTold();
  const used = new Set(parts.map((p) => p.column));
  const alias = word(said.as) ?? 'rows';
  const readColumns = () =>
    run(async () =>
      setRead(
        await unwrap(
          api.POST('/api/datasets/columns', {
            body: { text: writeDraft({ ...emptyDraft, name: 'draft', source, query }) },
          }),
        ),
      ),
    );
  const add = (column: string, kind: string) => {
    const name = freeNameOf(column.toLowerCase(), 'rows', new Set(parts.map((p) => p.name)));
    const value = { column, ...(kind === 'text' ? {} : { type: kind }) };
    void take([{ do: 'set', at: ['fields', name], value: value }]);
  };
  return (
    <div className={design.form}>
      <SqlEditor
        key={edition}
        ref={writing}
        value={query}
        engine={sources.data?.find((s) => s.name === source)?.engine ?? ''}
        schema={schema}
        first={first}
        onChange={setQuery}
      />
      <SqlTables source={source} onName={(name) => writing.current?.write(name)} />
      <div className={design.bar}>
        <Button
          size="compact-sm"
          disabled={query.trim() === kept || !query.trim()}
          onClick={() => void take([{ do: 'set', at: ['query'], value: `${query.trimEnd()}\n` }])}
        >
          Keep the query
        </Button>
        <Button size="compact-sm" variant="default" disabled={!query.trim()} onClick={readColumns}>
          Read its columns
        </Button>
      </div>
      {problem && <p role="alert">{problem}</p>}
      {read && <ColumnsOf read={read} isUsed={(name) => used.has(name) || used.has(`${alias}.${name}`)} onAdd={add} />}
    </div>
  );
}

/** The columns of a query as they were read, each to be added as a field; or why they could not be. */
function ColumnsOf({
  read,
  isUsed,
  onAdd,
}: {
  read: Schemas['ColumnsAnswer'];
  isUsed: (column: string) => boolean;
  onAdd: (column: string, kind: string) => void;
}) {
  const errors = read.faults.filter((f) => f.severity === 'error');
  if (errors.length > 0)
    return errors.map((f) => (
      <p key={f.message} role="alert">
        {f.message} {f.remedy}
      </p>
    ));
  return (
    <ul className={classes.parts} aria-label="Columns of the query">
      {read.columns.map((c) => (
        <li key={c.name}>
          <button
            type="button"
            className={`${design.field} ${classes.part}`}
            disabled={isUsed(c.name)}
            title={isUsed(c.name) ? 'It is a field already' : `Add ${c.name} as a field`}
            onClick={() => onAdd(c.name, c.kind)}
          >
            <span>{c.name}</span>
            <small>
              {c.type}
              {isUsed(c.name) && ', a field'}
            </small>
          </button>
        </li>
      ))}
    </ul>
  );
}
