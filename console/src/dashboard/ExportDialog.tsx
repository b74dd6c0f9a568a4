import { Button, Modal, NumberInput, Radio, Select } from '@mantine/core';
import '@mantine/core/styles/NumberInput.css';
import '@mantine/core/styles/Radio.css';
import { Download, Printer } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { api, zone } from '../api/client';
import { drafted } from '../api/draft';
import { fileOf, saved } from '../api/files';
import { fileDetails, fileForms } from '../model/fileForms';
import { asked } from '../model/selections';
import { wiringOf } from '../model/wiring';
import { pictureOf } from '../pictures';
import Copying from './Copying';
import classes from './dashboard.module.css';
import Subscribing from './Subscribing';
import { usePage } from './usePage';
import '../look/panels.css';

const papers = [
  { value: 'a4', label: 'A4, lying' },
  { value: 'a4-upright', label: 'A4, upright' },
  { value: 'a3', label: 'A3, lying' },
  { value: 'letter', label: 'Letter, lying' },
  { value: 'letter-upright', label: 'Letter, upright' },
];

/** Takes a tile, the tab or all of the dashboard along as a file, as it is seen now. */
export default function ExportDialog({ tile, onClose }: { tile?: string; onClose: () => void }) {
  const page = usePage((s) => s.page);
  const tab = usePage((s) => s.tab);
  const selections = usePage((s) => s.applied);
  const set = usePage((s) => s.set);
  const isCompared = usePage((s) => s.pinned !== undefined);
  const of = tile === undefined ? undefined : wiringOf(page).named.get(tile);
  const tabs = page.tabs.filter((t) => !t.hidden);
  const [what, setWhat] = useState(of ? 'tile' : tabs.length > 1 ? 'tab' : 'all');
  const [chosen, setForm] = useState('pdf');
  const [paper, setPaper] = useState('a4');
  const [detail, setDetail] = useState('usual');
  const [size, setSize] = useState({ width: 900, height: 560 });
  const [problem, setProblem] = useState<string>();
  const [made, setMade] = useState<string>();
  const making = useRef<AbortController>(undefined);
  const [isMaking, setMaking] = useState(false);
  const [howFar, setHowFar] = useState<string>();
  useEffect(() => () => making.current?.abort(), []);
  // What draws pages is begun while the form of the file is chosen. Where that can't be, the file itself says why.
  useEffect(() => {
    api
      .POST('/api/dashboards/{dashboard}/exports/coming', { params: { path: { dashboard: page.name } } })
      .catch(() => undefined);
  }, [page.name]);
  const isOne = what === 'tile';
  const possible = fileForms.filter((f) => f.value !== 'svg' || (isOne && of && !pictureOf(of).isControl));
  const form = possible.some((f) => f.value === chosen) ? chosen : 'pdf';

  const path = `/api/dashboards/${encodeURIComponent(page.name)}/exports`;
  /** What is chosen, as a form of file. */
  const request = (form: string) => ({
    form,
    tiles: isOne && tile !== undefined ? [tile] : null,
    tabs: what === 'tab' && tab ? [tab.name] : null,
    selections: asked(selections),
    viewing: { parameters: set, zone, view: page.view.view },
    ...(form === 'pdf' ? { paper } : {}),
    ...(detail === 'usual' ? {} : { detail }),
    ...(isOne && (form === 'png' || form === 'svg') ? size : {}),
    // What is looked at as a draft has an address of its own, which is nobody else's.
    link:
      window.location.pathname === `/d/${encodeURIComponent(page.name)}`
        ? `${window.location.pathname}${window.location.search}`
        : null,
  });

  const make = () =>
    work(async (stop) =>
      setMade(`${await saved(path, request(form), { signal: stop, onProgress: setHowFar })} is with your downloads.`),
    );

  /** Opens the pages in a tab of their own, from where the browser prints them. */
  function print() {
    // At once, while it is plain that a person wants it; browsers open nothing later.
    const tab = window.open('', '_blank');
    return work(async (stop) => {
      try {
        const pages = URL.createObjectURL(
          await (await fileOf(path, request('pdf'), { signal: stop, onProgress: setHowFar })).blob(),
        );
        if (tab) tab.location.replace(pages);
        setMade(
          tab ? 'Print it from the tab that was opened.' : 'Let this page open a tab, or make the file and print that.',
        );
      } catch (error) {
        tab?.close();
        throw error;
      }
    });
  }

  async function work(act: (stop: AbortSignal) => Promise<unknown>) {
    setProblem(undefined);
    setMade(undefined);
    setHowFar(undefined);
    setMaking(true);
    const stop = new AbortController();
    making.current = stop;
    try {
      await act(stop.signal);
    } catch (error) {
      if (!stop.signal.aborted) setProblem(error instanceof Error ? error.message : String(error));
    } finally {
      setMaking(false);
    }
  }

  return (
    <Modal opened onClose={onClose} title="Take along" size="md" closeButtonProps={{ 'aria-label': 'Close' }}>
      <div className={classes.taking}>
        <Radio.Group label="What" value={what} onChange={setWhat}>
          {of && <Radio value="tile" label={`The tile ${of.title || of.name}`} />}
          {tab && tabs.length > 1 && <Radio value="tab" label={`The tab ${tab.title}`} />}
          <Radio value="all" label={tabs.length > 1 ? `All ${tabs.length} tabs` : 'The dashboard'} />
        </Radio.Group>
        <Select
          label="As"
          description={possible.find((f) => f.value === form)?.about}
          data={possible.map(({ value, label }) => ({ value, label }))}
          value={form}
          onChange={(v) => v && setForm(v)}
          allowDeselect={false}
        />
        <Select
          label="How much"
          data={fileDetails}
          value={detail}
          onChange={(v) => v && setDetail(v)}
          allowDeselect={false}
        />
        {form === 'pdf' && (
          <Select label="Paper" data={papers} value={paper} onChange={(v) => v && setPaper(v)} allowDeselect={false} />
        )}
        {isOne && (form === 'png' || form === 'svg') && (
          <div className={classes.sizes}>
            {(['width', 'height'] as const).map((side) => (
              <NumberInput
                key={side}
                label={side === 'width' ? 'Pixels wide' : 'Pixels high'}
                min={side === 'width' ? 200 : 120}
                max={4000}
                allowDecimal={false}
                value={size[side]}
                onChange={(v) => typeof v === 'number' && setSize({ ...size, [side]: v })}
              />
            ))}
          </div>
        )}
        <p className="quiet">
          It has what you see now: the rows that you may see, under what is picked and set. The file says so, and when
          its data were read.{isCompared && ' Of the two states that you compare it has B, what is picked now.'}
        </p>
        {problem && <p role="alert">{problem}</p>}
        <div className={classes.takingEnd}>
          <span role="status" className="quiet">
            {isMaking ? (howFar ?? 'It is being made …') : made}
          </span>
          {isMaking ? (
            <Button variant="default" onClick={() => making.current?.abort()}>
              Stop
            </Button>
          ) : (
            <>
              {form === 'pdf' && (
                <Button variant="default" leftSection={<Printer size={14} aria-hidden />} onClick={() => void print()}>
                  Print
                </Button>
              )}
              <Button leftSection={<Download size={14} aria-hidden />} onClick={() => void make()}>
                Make the file
              </Button>
            </>
          )}
        </div>
        {drafted === undefined && <Subscribing dashboard={page.name} state={() => request(form)} />}
        {what !== 'all' && (
          <Copying tile={isOne ? tile : undefined} picture={async () => (await fileOf(path, request('png'))).blob()} />
        )}
      </div>
    </Modal>
  );
}
