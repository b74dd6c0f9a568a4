import { Button, Select } from '@mantine/core';
import { lazy, Suspense, useState } from 'react';
import type { ColumnInfo, Value } from '../api/client';
import { label } from '../model/labels';
import { ResultTable } from '../results/ResultTable';
import classes from './data.module.css';
import type { FormulaWords } from './FormulaEditor';
import { useTrial } from './useTrial';

const FormulaEditor = lazy(() => import('./FormulaEditor'));

interface Props {
  /** The dataset, with the formula or without it. */
  text: string;
  name: string;
  isMeasure: boolean;
  /** What is written so far. */
  formula: string;
  words: FormulaWords;
  /** The fields that a measure can be shown by. */
  by: string[];
  /** What the button says. */
  keep: string;
  /** Hears whether something is written that is not kept. */
  onWritten: (isUnkept: boolean) => void;
  /** Stores it; true once it is. */
  onKeep: (formula: string) => Promise<boolean>;
}

/** A formula with what it gives on real rows, before it is kept. */
export function FormulaForm({ text, name, isMeasure, formula, words, by, keep, onWritten, onKeep }: Props) {
  const [written, setWritten] = useState(formula);
  const change = (next: string) => {
    setWritten(next);
    onWritten(next.trim() !== formula.trim());
  };
  const [over, setOver] = useState<string | null>(by[0] ?? null);
  const shown = over !== null && by.includes(over) ? over : undefined;
  const trial = useTrial({ text, name, formula: written, isMeasure, by: isMeasure ? shown : undefined });
  const said = (field: string) => {
    const [name, grain] = field.split('.');
    return `by ${words.names.find((n) => n.name === name)?.title ?? name}${grain === undefined ? '' : ` by ${grain}`}`;
  };
  const isWritten = written.trim() !== '';
  const answer = isWritten ? trial.data : undefined;
  const fault = answer?.fault;
  const table = answer?.table;
  const [figure] = answer?.totals?.columns ?? [];
  const total = figure && label(answer?.totals?.values[0]?.[0] as Value, figure as ColumnInfo);
  return (
    <section aria-label={`Formula of ${name}`} className={classes.formulaForm}>
      <Suspense>
        <FormulaEditor label={`Formula of ${name}`} text={written} words={words} fault={fault} onChange={change} />
      </Suspense>
      {fault && (
        <p role="alert" className={classes.fault}>
          {fault.message} {fault.remedy}
        </p>
      )}
      {answer?.faults.map((f) => (
        <p key={`${f.line} ${f.message}`} role="alert" className={classes.fault}>
          {f.code.startsWith('query') ? '' : `Line ${f.line}: `}
          {f.message} {f.remedy}
        </p>
      ))}
      {trial.error && (
        <p role="alert" className={classes.fault}>
          {trial.error.message}
        </p>
      )}
      <div className={classes.buttons}>
        <Button
          size="compact-sm"
          disabled={!isWritten || written === formula || !answer || Boolean(fault)}
          onClick={() => void onKeep(written.trim())}
        >
          {keep}
        </Button>
        {isMeasure && by.length > 0 && (
          <Select
            size="xs"
            aria-label="Shown by"
            clearable
            searchable
            placeholder="over all rows"
            data={by.map((b) => ({ value: b, label: said(b) }))}
            value={shown ?? null}
            onChange={setOver}
          />
        )}
      </div>
      {table && !fault && (
        <div aria-label="What it gives" role="group" aria-busy={trial.isFetching}>
          <p className="quiet">
            {answer?.kind}
            {total !== undefined && `, over all rows ${total}`}
            {!isMeasure && ', its most frequent values'}
          </p>
          <div className={classes.preview}>
            <ResultTable
              title="What it gives"
              name="formula"
              columns={table.columns as ColumnInfo[]}
              values={table.values as Value[][]}
              weekStarts="monday"
              hasTools={false}
            />
          </div>
          {answer?.sql && (
            <details className={classes.sql}>
              <summary>The SQL of this</summary>
              <pre>{answer.sql.text}</pre>
            </details>
          )}
        </div>
      )}
    </section>
  );
}
