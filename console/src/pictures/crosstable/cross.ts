import type { ColumnInfo, Schemas, Value } from '../../api/client';
import { label } from '../../model/labels';
import type { ColumnSort } from '../../model/lines';

type Table = Schemas['TableInfo'];

/** A row of a cross table: a member of the last of the fields down, or a group of them with its subtotals. */
export interface CrossRow {
  /** The members of the fields down that it stands for, as many as its level. */
  path: Value[];
  /** The figures over all that stands across. */
  totals: Value[];
  children: CrossRow[];
}

/** A result as it stands in a cross table. */
export interface Cross {
  /** The fields down, and the one across. */
  down: ColumnInfo[];
  across: ColumnInfo;
  figures: ColumnInfo[];
  /** The members across, with the figures over all that stands down. */
  columns: { member: Value; totals: Value[] }[];
  rows: CrossRow[];
  /** The figures over everything. */
  total: Value[];
  /** The figures of a row under a member across; undefined where there are no rows. */
  cell: (path: readonly Value[], member: Value) => Value[] | undefined;
}

const key = (values: readonly Value[]) => JSON.stringify(values);

/** The lines of a table, each as its members and its figures. */
function lines(table: Table): { members: Value[]; figures: Value[] }[] {
  const at = (role: string) => table.columns.flatMap((c, i) => (c.role === role ? [i] : []));
  const [groups, figures] = [at('group'), at('figure')];
  return Array.from({ length: table.values[0]?.length ?? 0 }, (_, row) => ({
    members: groups.map((g) => (table.values[g]?.[row] ?? null) as Value),
    figures: figures.map((f) => (table.values[f]?.[row] ?? null) as Value),
  }));
}

/** Puts the lines of a result and its subtotals where they stand; the order is that of the subtotals. */
export function crossOf(table: Table, subtotals: readonly Schemas['SubtotalInfo'][]): Cross | undefined {
  const groups = table.columns.filter((c) => c.role === 'group');
  const across = groups.at(-1);
  if (!across) return undefined;
  const level = (down: number, isAcross: boolean) => {
    const found = subtotals.find((s) => s.down === down && s.isAcross === isAcross);
    return found ? lines(found.table) : [];
  };
  const deepest = groups.length - 1;
  const cells = new Map(lines(table).map((l) => [key(l.members), l.figures]));
  for (let down = 1; down < deepest; down++) for (const l of level(down, true)) cells.set(key(l.members), l.figures);
  const nodes = new Map<string, CrossRow>();
  const rows: CrossRow[] = [];
  for (let down = 1; down <= deepest; down++)
    for (const { members, figures } of level(down, false)) {
      const node: CrossRow = { path: members, totals: figures, children: [] };
      nodes.set(key(members), node);
      (down === 1 ? rows : nodes.get(key(members.slice(0, -1)))?.children)?.push(node);
    }
  return {
    down: groups.slice(0, -1),
    across,
    figures: table.columns.filter((c) => c.role === 'figure'),
    columns: level(0, true).map((l) => ({ member: l.members[0] ?? null, totals: l.figures })),
    rows,
    total: level(0, false)[0]?.figures ?? [],
    cell: (path, member) => cells.get(key([...path, member])),
  };
}

/** By what rows are sorted: the figure of a member across, or that over all of them. */
export interface CrossSort {
  /** undefined for the totals. */
  member?: { value: Value };
  figure: number;
  down: boolean;
}

/** The same as a view keeps it, and back; undefined where what it names is not there. */
export function keptSort({ member, figure, down }: CrossSort, cross: Cross): ColumnSort {
  const column = cross.figures[figure]?.name ?? '';
  return { column, descending: down, under: member ? label(member.value, cross.across) : null };
}
export function sortKept(kept: ColumnSort | undefined, cross: Cross): CrossSort | undefined {
  const figure = cross.figures.findIndex((f) => f.name === kept?.column);
  const under = kept?.under ?? null;
  const member = under === null ? undefined : cross.columns.find((c) => label(c.member, cross.across) === under);
  if (!kept || figure < 0 || (under !== null && !member)) return undefined;
  return { figure, down: kept.descending === true, member: member && { value: member.member } };
}

/** The rows that are to be seen: siblings sorted, those below a folded one left out. */
export function seen(cross: Cross, sort: CrossSort | undefined, folded: ReadonlySet<string>): CrossRow[] {
  const figure = (row: CrossRow): Value =>
    (sort?.member ? cross.cell(row.path, sort.member.value) : row.totals)?.[sort?.figure ?? 0] ?? null;
  const sorted = (rows: CrossRow[]) =>
    sort
      ? [...rows].sort((a, b) => {
          const [x, y] = [figure(a), figure(b)];
          if (x === null || y === null) return x === y ? 0 : x === null ? 1 : -1;
          return (x < y ? -1 : x > y ? 1 : 0) * (sort.down ? -1 : 1);
        })
      : rows;
  const walk = (rows: CrossRow[]): CrossRow[] =>
    sorted(rows).flatMap((row) => [row, ...(folded.has(key(row.path)) ? [] : walk(row.children))]);
  return walk(cross.rows);
}

/** The rows of the last level below a row, or the row itself. */
export const leaves = (row: CrossRow): CrossRow[] => (row.children.length === 0 ? [row] : row.children.flatMap(leaves));

/** What tells a row from others. */
export const rowKey = (row: CrossRow): string => key(row.path);
