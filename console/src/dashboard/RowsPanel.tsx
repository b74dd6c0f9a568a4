import { Button, Checkbox, Drawer, MultiSelect, Select } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { useState } from 'react';
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

function Rows({ dashboard, tile, onClose }: { dashboard: string; tile: TileInfo; onClose: () => void }) {
  const view = usePage((s) => s.page.view.view);
  const mayExport = usePage((s) => s.page.mayExport);
  const selections = usePage((s) => s.applied);
  const set = usePage((s) => s.set);
  const [first, setFirst] = useState(0);
  const { sort, where, clear, of } = useAsked(() => {
    setFirst(0);
    setCard(undefined);
  });
  const weekStarts = usePage((s) => s.page.weekStarts);
  const [size, setSize] = useState(50);
  const [columns, setColumns] = useState<string[]>([]);
  const [card, setCard] = useState<number>();
  const [problem, setProblem] = useState<string>();
  const [marked, setMarked] = useState(false);
  const own = selections[tile.name];
  const member =
    own && !own.exclude && !own.range && !own.restOf && own.members.length === 1 ? own.members[0] : undefined;
  const body = {
    selections: asked(selections),
    viewing: { parameters: set, zone, view },
    mark: member ? { member: member, restOf: null } : null,
    columns: columns.length > 0 ? columns : null,
    sort,
    where,
    first,
    count: size,
    byteOrderMark: marked,
  };
  const ask = (part: Partial<typeof body>) =>
    unwrap(
      api.POST('/api/dashboards/{dashboard}/tiles/{tile}/rows', {
        params: { path: { dashboard, tile: tile.name } },
        body: { ...body, byteOrderMark: false, ...part },
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
  const answer = rows.data;
  const count = answer?.table.values[0]?.length ?? 0;
  const lines = Number(answer?.lines ?? 0);
  const reachable = Math.min(lines, Number(answer?.most ?? 0));

  async function save() {
    setProblem(undefined);
    const at = `/api/dashboards/${encodeURIComponent(dashboard)}/tiles/${encodeURIComponent(tile.name)}/rows.csv`;
    let response: Response;
    try {
      response = await fileOf(at, body);
      await download(response, `${tile.name}.csv`);
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
      return;
    }
    const told = (header: string) => Number(response.headers.get(header) ?? 0);
    const count = (n: number, noun: string) => `${n.toLocaleString('en-US')} ${noun}${n === 1 ? '' : 's'}`;
    const [all, here, cells] = [told('Weir-Rows'), told('Weir-Rows-Here'), told('Weir-Marked')];
    setProblem(
      [
        all > here
          ? `The file has the first ${here.toLocaleString('en-US')} of ${count(all, 'row')}: more may not leave this source at once.`
          : `The file has all ${count(here, 'row')}.`,
        cells > 0 &&
          `${count(cells, 'cell')} would be taken for formulas by a spreadsheet, so ${cells === 1 ? 'it begins' : 'they begin'} with a '.`,
      ]
        .filter(Boolean)
        .join(' '),
    );
  }

  return (
    <Drawer
      opened
      onClose={onClose}
      // A menu that is open within it is closed first, and not both at once.
      closeOnEscape={false}
      onKeyDown={(e) => e.key === 'Escape' && onClose()}
      position="right"
      size="min(1100px, 92vw)"
      title={`Rows behind ${tile.title}${member ? `: ${memberLabel(member, fieldsOf(tile, own))}` : ''}`}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {rows.error && <p role="alert">{rows.error.message}</p>}
      {problem && <p role="status">{problem}</p>}
      {answer && (
        <div className={classes.rows}>
          <div className={classes.rowsBar}>
            <span>
              {lines === 0
                ? 'No rows'
                : `${(first + 1).toLocaleString('en-US')} to ${(first + count).toLocaleString('en-US')} of ${lines.toLocaleString('en-US')} rows`}
              {answer.restricted && ', of those that you may see'}
              {where.length > 0 && ', of those that the columns let through'}
              {reachable < lines && `; the first ${reachable.toLocaleString('en-US')} can be paged`}
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
              onChange={(v) => {
                setSize(Number(v));
                setFirst(0);
              }}
            />
            <Button
              size="xs"
              variant="default"
              disabled={first === 0}
              onClick={() => setFirst(Math.max(0, first - size))}
            >
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
            {mayExport && (
              <>
                <Button
                  size="xs"
                  variant="default"
                  leftSection={<Download size={14} aria-hidden />}
                  onClick={() => void save()}
                >
                  CSV
                </Button>
                <Checkbox
                  size="xs"
                  label="For spreadsheets"
                  title="Begins the file with the mark by which some spreadsheets know its letters"
                  checked={marked}
                  onChange={(e) => setMarked(e.currentTarget.checked)}
                />
              </>
            )}
          </div>
          <div className={classes.rowsTable} role="region" aria-label="Rows">
            <ResultTable
              title={`Rows behind ${tile.title}`}
              name={`rows-${tile.name}`}
              columns={answer.table.columns}
              values={answer.table.values as Value[][]}
              weekStarts={weekStarts}
              asked={of(answer.table.columns)}
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
