import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type QualityAnswer, unwrap, type Value } from '../api/client';
import { useTold } from '../api/useTold';
import { ResultTable } from '../results/ResultTable';
import { useAsked } from '../results/useAsked';
import classes from './data.module.css';

interface Props {
  /** The definition as text. */
  text: string;
}

/** The first rows of a dataset being defined. Sorting and filtering here leave its definition alone. */
export function Preview({ text }: Props) {
  const { sort, where, clear, of } = useAsked();
  const [quality, setQuality] = useState<QualityAnswer>();
  const preview = useQuery({
    queryKey: ['preview', text, sort, where],
    placeholderData: (before) => before,
    queryFn: () =>
      unwrap(
        api.POST('/api/datasets/preview', {
          body: { text, sort, where, rows: 100 },
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
      {/* What stands below must not move away from whoever works on it while rows come. */}
      {!table && <p className={`quiet ${classes.room}`}>{preview.isFetching && 'Reading the first rows …'}</p>}
      {table && (
        <>
          <div className={classes.filters}>
            <span className="quiet" role="status" data-counts>
              {answer?.matching.toLocaleString('en-US')}
              {where.length > 0 && ` of ${answer?.rows.toLocaleString('en-US')}`} rows, {table.columns.length} columns
              {answer?.matching > rows && `; the first ${rows} are shown`}
            </span>
            {where.length > 0 && (
              <Button size="compact-xs" variant="default" onClick={clear}>
                Show all
              </Button>
            )}
          </div>
          <section className={classes.preview} aria-label="First rows" data-preview>
            <ResultTable
              title="First rows"
              name="preview"
              columns={table.columns}
              values={table.values as Value[][]}
              weekStarts="monday"
              asked={of(table.columns)}
            />
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
