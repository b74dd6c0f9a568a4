import type { ColumnInfo } from '../../api/client';
import type { CellLook } from './cells';
import classes from './cells.module.css';

/** What the colours of cells mean, a line for each measure that has some. */
export function CellLegend({ columns, looks }: { columns: ColumnInfo[]; looks: (CellLook | undefined)[] }) {
  const told = columns.flatMap((column, i) => {
    const keys = looks[i]?.keys ?? [];
    return keys.length > 0 ? [{ column, keys }] : [];
  });
  if (told.length === 0) return null;
  return (
    <dl className={classes.legend}>
      {told.map(({ column, keys }) => (
        <div key={column.name}>
          <dt>{column.title}</dt>
          {keys.map((k) => (
            <dd key={k.words}>
              <i aria-hidden style={{ background: k.background }} data-wide={keys.length === 1} />
              {k.words}
            </dd>
          ))}
        </div>
      ))}
    </dl>
  );
}
