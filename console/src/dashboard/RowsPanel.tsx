import { Button, Checkbox, Drawer, MultiSelect, Select } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { api, type Schemas, type TileInfo, unwrap, type Value, zone } from '../api/client';
import { download, fileOf } from '../api/files';
import { label } from '../model/labels';
import { asked, fieldsOf, memberLabel } from '../model/selections';
import { wiringOf } from '../model/wiring';
import { ResultTable } from '../results/ResultTable';
import { useAsked } from '../results/useAsked';
import classes from './dashboard.module.css';
import { useDispatch, usePage } from './usePage';
import '../look/panels.css';

/** The rows behind a tile, or behind the one member that is picked on it: paged, sorted, with the columns that are wanted. */
export default function RowsPanel({ tile: name }: { tile: string }) {
  const dispatch = useDispatch();
  const page = usePage((s) => s.page);
  const tile = wiringOf(page).named.get(name);
  const close = () => dispatch({ type: 'list rows' });
  return tile ? <Rows dashboard={page.name} tile={tile} onClose={close} /> : null;
}

type Body = Schemas['RowsRequest'];

/** What is asked of the rows, and where one is among them. */
function useRows(dashboard: string, tile: TileInfo) {
  const view = usePage((s) => s.page.view.view);
  const selections = usePage((s) => s.applied);
  const set = usePage((s) => s.set);
  const [first, setFirst] = useState(0);
  const [size, setSize] = useState(50);
  const [columns, setColumns] = useState<string[]>([]);
  const [card, setCard] = useState<number>();
  const lines = useAsked(() => {
    setFirst(0);
    setCard(undefined);
  });
  const own = selections[tile.name];
  const isOne = own && !own.exclude && !own.range && !own.restOf && own.members.length === 1;
  const member = isOne ? own.members[0] : undefined;
  const body: Body = {
    selections: asked(selections),
    viewing: { parameters: set, zone, view },
    mark: member ? { member, restOf: null } : null,
    columns: columns.length > 0 ? columns : null,
    sort: lines.sort,
    where: lines.where,
    first,
    count: size,
    byteOrderMark: false,
  };
  const ask = (part: Partial<Body>) =>
    unwrap(
      api.POST('/api/dashboards/{dashboard}/tiles/{tile}/rows', {
        params: { path: { dashboard, tile: tile.name } },
        body: { ...body, ...part },
      }),
    );
  const rows = useQuery({
    queryKey: ['rows', dashboard, tile.name, body],
    queryFn: () => ask({}),
    placeholderData: (p) => p,
  });
  const one = useQuery({
    queryKey: ['row', dashboard, tile.name, body, card],
    enabled: card !== undefined,
    queryFn: () => ask({ first: card ?? 0, count: 1, columns: null }),
  });
  return {
    body,
    rows,
    one,
    lines,
    first,
    setFirst,
    size,
    setSize: (next: number) => {
      setSize(next);
      setFirst(0);
    },
    columns,
    setColumns,
    card,
    setCard,
    of: member ? `: ${memberLabel(member, fieldsOf(tile, own))}` : '',
  };
}

type RowsState = ReturnType<typeof useRows>;

function Rows({ dashboard, tile, onClose }: { dashboard: string; tile: TileInfo; onClose: () => void }) {
  const mayExport = usePage((s) => s.page.mayExport);
  const weekStarts = usePage((s) => s.page.weekStarts);
  const state = useRows(dashboard, tile);
  const { rows, one, lines, first, card, setCard } = state;
  const [problem, setProblem] = useState<string>();
  const answer = rows.data;

  return (
    <Drawer
      opened
      onClose={onClose}
      // A menu that is open within it is closed first, and not both at once.
      closeOnEscape={false}
      onKeyDown={(e) => e.key === 'Escape' && onClose()}
      position="right"
      size="min(1100px, 92vw)"
      title={`Rows behind ${tile.title}${state.of}`}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {rows.error && <p role="alert">{rows.error.message}</p>}
      {problem && <p role="status">{problem}</p>}
      {answer && (
        <div className={classes.rows}>
          <Bar state={state} answer={answer}>
            {mayExport && <AsFile dashboard={dashboard} tile={tile} body={state.body} onSaid={setProblem} />}
          </Bar>
          <div className={classes.rowsTable} role="region" aria-label="Rows">
            <ResultTable
              title={`Rows behind ${tile.title}`}
              name={`rows-${tile.name}`}
              columns={answer.table.columns}
              values={answer.table.values as Value[][]}
              weekStarts={weekStarts}
              asked={lines.of(answer.table.columns)}
              write={label}
              before={[
                {
                  key: 'record',
                  heading: <span className="hidden-visually">Whole record</span>,
                  cell: (r) => (
                    <button type="button" onClick={() => setCard(card === first + r ? undefined : first + r)}>
                      {card === first + r ? 'Close' : 'Record'}
                    </button>
                  ),
                },
              ]}
              isOpen={(r) => card === first + r}
            />
          </div>
          {card !== undefined && one.data && <Card answer={one.data} number={card + 1} />}
        </div>
      )}
    </Drawer>
  );
}

const written = (n: number) => n.toLocaleString('en-US');

/** Which rows are seen, and what leads to others. */
function Bar({ state, answer, children }: { state: RowsState; answer: Schemas['RowsAnswer']; children: ReactNode }) {
  const { first, setFirst, size, setSize, columns, setColumns } = state;
  const { where, clear } = state.lines;
  const count = answer.table.values[0]?.length ?? 0;
  const lines = Number(answer.lines);
  const reachable = Math.min(lines, Number(answer.most));
  return (
    <div className={classes.rowsBar}>
      <span>
        {lines === 0 ? 'No rows' : `${written(first + 1)} to ${written(first + count)} of ${written(lines)} rows`}
        {answer.restricted && ', of those that you may see'}
        {where.length > 0 && ', of those that the columns let through'}
        {reachable < lines && `; the first ${written(reachable)} can be paged`}
      </span>
      {where.length > 0 && (
        <Button size="xs" variant="default" onClick={clear}>
          Show all
        </Button>
      )}
      <MultiSelect
        size="xs"
        aria-label="Columns"
        placeholder={columns.length === 0 ? 'All columns' : undefined}
        data={answer.fields.map((f) => ({ value: f.name, label: f.title }))}
        value={columns}
        onChange={setColumns}
        clearable
        searchable
      />
      <Select
        size="xs"
        aria-label="Rows a page"
        data={['25', '50', '100', '500']}
        value={String(size)}
        allowDeselect={false}
        onChange={(v) => setSize(Number(v))}
      />
      <Button size="xs" variant="default" disabled={first === 0} onClick={() => setFirst(Math.max(0, first - size))}>
        Earlier
      </Button>
      <Button
        size="xs"
        variant="default"
        disabled={first + count >= reachable || count === 0}
        onClick={() => setFirst(first + size)}
      >
        Later
      </Button>
      {children}
    </div>
  );
}

/** Takes the rows along as a file. @param onSaid What is to be known of it, or what kept it from coming. */
function AsFile({
  dashboard,
  tile,
  body,
  onSaid,
}: {
  dashboard: string;
  tile: TileInfo;
  body: Body;
  onSaid: (words: string | undefined) => void;
}) {
  const [isMarked, setMarked] = useState(false);

  async function save() {
    onSaid(undefined);
    const at = `/api/dashboards/${encodeURIComponent(dashboard)}/tiles/${encodeURIComponent(tile.name)}/rows.csv`;
    try {
      const response = await fileOf(at, { ...body, byteOrderMark: isMarked });
      await download(response, `${tile.name}.csv`);
      onSaid(saidOf(response.headers));
    } catch (error) {
      onSaid(error instanceof Error ? error.message : String(error));
    }
  }
  return (
    <>
      <Button size="xs" variant="default" leftSection={<Download size={14} aria-hidden />} onClick={() => void save()}>
        CSV
      </Button>
      <Checkbox
        size="xs"
        label="For spreadsheets"
        title="Begins the file with the mark by which some spreadsheets know its letters"
        checked={isMarked}
        onChange={(e) => setMarked(e.currentTarget.checked)}
      />
    </>
  );
}

/** How much of the rows a file has, and what was changed in it. */
function saidOf(headers: Headers): string {
  const told = (header: string) => Number(headers.get(header) ?? 0);
  const count = (n: number, noun: string) => `${written(n)} ${noun}${n === 1 ? '' : 's'}`;
  const [all, here, cells] = [told('Weir-Rows'), told('Weir-Rows-Here'), told('Weir-Marked')];
  const rows =
    all > here
      ? `The file has the first ${written(here)} of ${count(all, 'row')}: more may not leave this source at once.`
      : `The file has all ${count(here, 'row')}.`;
  const marked = `${count(cells, 'cell')} would be taken for formulas by a spreadsheet, so ${cells === 1 ? 'it begins' : 'they begin'} with a '.`;
  return cells > 0 ? `${rows} ${marked}` : rows;
}

/** One row with all its fields and what they mean. */
function Card({ answer, number }: { answer: Schemas['RowsAnswer']; number: number }) {
  const meaning = new Map(answer.fields.map((f) => [f.name, f.description]));
  return (
    <section className={classes.card} aria-label={`Record ${number}`}>
      <h3>Record {number.toLocaleString('en-US')}</h3>
      <dl>
        {answer.table.columns.map((c, i) => (
          <div key={c.name}>
            <dt title={meaning.get(c.name) ?? undefined}>{c.title}</dt>
            <dd>{label(answer.table.values[i]?.[0] as Value, c)}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
