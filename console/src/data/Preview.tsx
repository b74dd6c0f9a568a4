import { Button, Select, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type QualityAnswer, unwrap, type Value } from '../api/client';
import { useTold } from '../api/useTold';
import { bareNumber } from '../model/labels';
import classes from './data.module.css';

interface Props {
  /** The definition as text. */
  text: string;
}

/** The first rows of a dataset being defined. Sorting and filtering here leave its definition alone. */
export function Preview({ text }: Props) {
  const [sort, setSort] = useState<{ field: string; down: boolean }>();
  const [where, setWhere] = useState<{ field: string; is: string; value: string }>({
    field: '',
    is: 'equal',
    value: '',
  });
  const [quality, setQuality] = useState<QualityAnswer>();
  const isComplete = where.field !== '' && (where.is === 'missing' || where.value !== '');
  const conditions = isComplete ? [where] : [];
  const preview = useQuery({
    queryKey: ['preview', text, sort, conditions],
    placeholderData: (before) => before,
    queryFn: () =>
      unwrap(
        api.POST('/api/datasets/preview', {
          body: { text, sort: sort?.field ?? null, descending: sort?.down ?? false, where: conditions, rows: 100 },
        }),
      ),
  });
  const [problem, run] = useTold();
  const answer = preview.data;
  const errors = (answer?.faults ?? []).filter((f) => f.severity === 'error');
  const table = answer?.table;
  const rows = table?.values[0]?.length ?? 0;

  return (
    <div>
      {preview.error && (
        <p role="alert" className={classes.fault}>
          {preview.error.message}
        </p>
      )}
      {errors.map((f) => (
        <p key={`${f.line}:${f.column}${f.message}`} role="alert" className={classes.fault}>
          Line {String(f.line)}, column {String(f.column)}: {f.message} {f.remedy}
        </p>
      ))}
      {table && (
        <>
          <div className={classes.filters}>
            <Select
              size="xs"
              aria-label="Field to filter by"
              placeholder="Filter by …"
              clearable
              searchable
              data={table.columns.map((c) => ({ value: c.name, label: c.title }))}
              value={where.field || null}
              onChange={(field) => setWhere({ ...where, field: field ?? '' })}
            />
            <Select
              size="xs"
              aria-label="Condition"
              allowDeselect={false}
              data={[
                { value: 'equal', label: 'is' },
                { value: 'less', label: 'is less than' },
                { value: 'more', label: 'is more than' },
                { value: 'contains', label: 'contains' },
                { value: 'missing', label: 'is missing' },
              ]}
              value={where.is}
              onChange={(is) => setWhere({ ...where, is: is ?? 'equal' })}
            />
            {where.is !== 'missing' && (
              <TextInput
                size="xs"
                aria-label="Value"
                value={where.value}
                onChange={(e) => setWhere({ ...where, value: e.currentTarget.value })}
              />
            )}
            <span className="quiet" role="status" data-counts>
              {answer?.matching.toLocaleString('en-US')}
              {conditions.length > 0 && ` of ${answer?.rows.toLocaleString('en-US')}`} rows, {table.columns.length}{' '}
              columns
              {answer?.matching > rows && `; the first ${rows} are shown`}
            </span>
          </div>
          <section className={classes.rows} tabIndex={0} aria-label="First rows">
            <table>
              <thead>
                <tr>
                  {table.columns.map((c) => (
                    <th key={c.name} scope="col" data-figure={isNumber(c.kind)}>
                      <button
                        type="button"
                        onClick={() =>
                          setSort(
                            sort?.field === c.name && sort.down
                              ? undefined
                              : { field: c.name, down: sort?.field === c.name },
                          )
                        }
                      >
                        {c.title}
                        {sort?.field === c.name && (sort.down ? ' ↓' : ' ↑')}
                      </button>
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {Array.from({ length: rows }, (_, r) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: a row of a preview is its place
                  <tr key={r}>
                    {table.columns.map((c, i) => (
                      <td key={c.name} data-figure={isNumber(c.kind)} data-missing={table.values[i]?.[r] === null}>
                        {bareNumber(table.values[i]?.[r] as Value, c)}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        </>
      )}
      {answer?.sql && (
        <details className={classes.sql}>
          <summary>The SQL of this preview</summary>
          <pre>{answer.sql.text}</pre>
        </details>
      )}
      <div className={classes.buttons}>
        <Button
          size="compact-xs"
          variant="default"
          onClick={() =>
            run(async () => setQuality(await unwrap(api.POST('/api/datasets/quality', { body: { text } }))))
          }
        >
          Check the values
        </Button>
      </div>
      {problem && (
        <p role="alert" className={classes.fault}>
          {problem}
        </p>
      )}
      {quality && <Quality quality={quality} />}
    </div>
  );
}

const isNumber = (kind: string) => kind === 'integer' || kind === 'decimal' || kind === 'float';

/** Missing, unfit and unmatched values, and keys that would multiply rows. */
function Quality({ quality }: { quality: QualityAnswer }) {
  const count = (n: unknown) => Number(n).toLocaleString('en-US');
  const notes = [
    ...quality.faults.filter((f) => f.severity === 'error').map((f) => `${f.message} ${f.remedy ?? ''}`),
    ...quality.joins.map(
      (j) =>
        `Looking up ${j.table} would multiply rows: these keys stand in several of its rows: ${j.keys.join('; ')}.`,
    ),
    ...quality.fields.flatMap((f) => [
      ...((f.unfit ?? 0) > 0 ? [`${f.field}: ${count(f.unfit)} values do not fit the type.`] : []),
      ...((f.unmatched ?? 0) > 0
        ? [`${f.field}: ${count(f.unmatched)} values have no name: ${f.codes.join(', ')}.`]
        : []),
      ...(f.missing > 0 ? [`${f.field}: ${count(f.missing)} of ${count(quality.rows)} rows have no value.`] : []),
    ]),
  ];
  return (
    <ul className={classes.quality} aria-label="What was found">
      {notes.length === 0 ? (
        <li>Every row has every value, and no join multiplies rows.</li>
      ) : (
        notes.map((n) => <li key={n}>{n}</li>)
      )}
    </ul>
  );
}
