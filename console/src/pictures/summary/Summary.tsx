import type { PictureProps } from '../PictureProps';
import classes from './summary.module.css';

/** What fields are like: the lines of each field below its name, a column for each group and one for all. */
export default function Summary({ tile, result }: PictureProps) {
  const { columns, values } = result.table;
  const [fields, told, ...figures] = values as string[][];
  const lines = (told ?? []).map((words, row) => ({ field: fields?.[row] ?? '', words, row }));
  const apart = new Map<string, typeof lines>();
  for (const line of lines) apart.set(line.field, [...(apart.get(line.field) ?? []), line]);
  return (
    <section className={classes.room} tabIndex={0} aria-label={`${tile.title}: table`}>
      <table className={classes.table}>
        <thead>
          <tr>
            <th scope="col">{columns[0]?.title}</th>
            {columns.slice(2).map((c) => (
              <th key={c.name} scope="col">
                {c.title}
              </th>
            ))}
          </tr>
        </thead>
        {[...apart].map(([field, of]) => (
          <tbody key={field}>
            <tr>
              <th scope="rowgroup" colSpan={columns.length - 1}>
                {field}
              </th>
            </tr>
            {of.map(({ words, row }) => (
              <tr key={words}>
                <th scope="row">{words}</th>
                {figures.map((f, i) => (
                  <td key={columns[i + 2]?.name}>{f[row]}</td>
                ))}
              </tr>
            ))}
          </tbody>
        ))}
      </table>
    </section>
  );
}
