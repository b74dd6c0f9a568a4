import { useQuery } from '@tanstack/react-query';
import { api, type ColumnInfo, unwrap, type Value } from '../api/client';
import { label } from '../model/labels';
import classes from './design.module.css';

/** What a field holds in the rows that the reader may see: its most frequent members, or its ends. */
export default function FieldValues({ dataset, field }: { dataset: string; field: string }) {
  const values = useQuery({
    queryKey: ['values', dataset, field],
    queryFn: () =>
      unwrap(api.GET('/api/datasets/{dataset}/fields/{field}/values', { params: { path: { dataset, field } } })),
  });
  if (values.error) return <p role="alert">{values.error.message}</p>;
  if (!values.data) return <p className="quiet">…</p>;
  const { table, lines, restricted } = values.data;
  const columns = table.columns as ColumnInfo[];
  const [first = [], second = []] = table.values as Value[][];
  const said = (value: Value | undefined, i: number) => label(value ?? null, columns[i] as ColumnInfo);
  const whose = restricted ? ' of the rows you may see' : '';
  if (lines === null)
    return (
      <p className={classes.values}>
        {said(first[0], 0)} to {said(second[0], 1)}
        <span className="quiet">{whose}</span>
      </p>
    );
  return (
    <div className={classes.values}>
      <ol>
        {first.map((member, i) => (
          <li key={String(member)}>
            <span>{said(member, 0)}</span> <small>{Number(second[i]).toLocaleString('en-US')}</small>
          </li>
        ))}
      </ol>
      <p className="quiet">
        {first.length < lines ? `The ${first.length} most frequent of ${lines.toLocaleString('en-US')}` : 'All'}
        {whose}, with their rows.
      </p>
    </div>
  );
}
