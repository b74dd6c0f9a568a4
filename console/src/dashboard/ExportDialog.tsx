import { Button, Modal, NumberInput, Radio, Select } from '@mantine/core';
import '@mantine/core/styles/NumberInput.css';
import '@mantine/core/styles/Radio.css';
import { Download, Printer } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { api, zone } from '../api/client';
import { drafted } from '../api/draft';
import { fileOf, saved, type Waiting } from '../api/files';
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

/** What is taken along: a tile, the open tab, or all. */
type What = 'tile' | 'tab' | 'all';

/** What the file is like. */
interface Choice {
  what: What;
  form: string;
  paper: string;
  detail: string;
  /** Of a picture of one tile, in pixels. */
  size: { width: number; height: number };
}

/** Takes a tile, the tab or all of the dashboard along as a file, as it is seen now. */
export default function ExportDialog({ tile, onClose }: { tile?: string; onClose: () => void }) {
  const page = usePage((s) => s.page);
  const tab = usePage((s) => s.tab);
  const isCompared = usePage((s) => s.pinned !== undefined);
  const of = tile === undefined ? undefined : wiringOf(page).named.get(tile);
  const tabs = page.tabs.filter((t) => !t.hidden);
  const [choice, setChoice] = useState<Choice>({
    what: of ? 'tile' : tabs.length > 1 ? 'tab' : 'all',
    form: 'pdf',
    paper: 'a4',
    detail: 'usual',
    size: { width: 900, height: 560 },
  });
  const change = (part: Partial<Choice>) => setChoice((c) => ({ ...c, ...part }));
  const isOne = choice.what === 'tile';
  const possible = fileForms.filter((f) => f.value !== 'svg' || (isOne && of && !pictureOf(of).isControl));
  const form = possible.some((f) => f.value === choice.form) ? choice.form : 'pdf';
  const request = useRequest(tile, choice);
  const path = `/api/dashboards/${encodeURIComponent(page.name)}/exports`;
  const { make, print, stop, isMaking, howFar, made, problem } = useMaking(path, page.name);

  return (
    <Modal opened onClose={onClose} title="Take along" size="md" closeButtonProps={{ 'aria-label': 'Close' }}>
      <div className={classes.taking}>
        <Radio.Group label="What" value={choice.what} onChange={(v) => change({ what: v as What })}>
          {of && <Radio value="tile" label={`The tile ${of.title || of.name}`} />}
          {tab && tabs.length > 1 && <Radio value="tab" label={`The tab ${tab.title}`} />}
          <Radio value="all" label={tabs.length > 1 ? `All ${tabs.length} tabs` : 'The dashboard'} />
        </Radio.Group>
        <Select
          label="As"
          description={possible.find((f) => f.value === form)?.about}
          data={possible.map(({ value, label }) => ({ value, label }))}
          value={form}
          onChange={(v) => v && change({ form: v })}
          allowDeselect={false}
        />
        <Details choice={{ ...choice, form }} onChange={change} />
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
            <Button variant="default" onClick={stop}>
              Stop
            </Button>
          ) : (
            <>
              {form === 'pdf' && (
                <Button
                  variant="default"
                  leftSection={<Printer size={14} aria-hidden />}
                  onClick={() => void print(request('pdf'))}
                >
                  Print
                </Button>
              )}
              <Button leftSection={<Download size={14} aria-hidden />} onClick={() => void make(request(form))}>
                Make the file
              </Button>
            </>
          )}
        </div>
        {drafted === undefined && <Subscribing dashboard={page.name} state={() => request(form)} />}
        {choice.what !== 'all' && (
          <Copying tile={isOne ? tile : undefined} picture={async () => (await fileOf(path, request('png'))).blob()} />
        )}
      </div>
    </Modal>
  );
}

/** How much of it, on which paper, or how large. */
function Details({ choice, onChange }: { choice: Choice; onChange: (part: Partial<Choice>) => void }) {
  const { what, form, paper, detail, size } = choice;
  return (
    <>
      <Select
        label="How much"
        data={fileDetails}
        value={detail}
        onChange={(v) => v && onChange({ detail: v })}
        allowDeselect={false}
      />
      {form === 'pdf' && (
        <Select
          label="Paper"
          data={papers}
          value={paper}
          onChange={(v) => v && onChange({ paper: v })}
          allowDeselect={false}
        />
      )}
      {isSized(what, form) && (
        <div className={classes.sizes}>
          {(['width', 'height'] as const).map((side) => (
            <NumberInput
              key={side}
              label={side === 'width' ? 'Pixels wide' : 'Pixels high'}
              min={side === 'width' ? 200 : 120}
              max={4000}
              allowDecimal={false}
              value={size[side]}
              onChange={(v) => typeof v === 'number' && onChange({ size: { ...size, [side]: v } })}
            />
          ))}
        </div>
      )}
    </>
  );
}

const isSized = (what: What, form: string) => what === 'tile' && (form === 'png' || form === 'svg');

/** What is chosen, as it is asked for in a form of file. */
function useRequest(tile: string | undefined, { what, paper, detail, size }: Choice) {
  const page = usePage((s) => s.page);
  const tab = usePage((s) => s.tab);
  const selections = usePage((s) => s.applied);
  const set = usePage((s) => s.set);
  const { pathname, search } = window.location;
  return (form: string) => ({
    form,
    tiles: what === 'tile' && tile !== undefined ? [tile] : null,
    tabs: what === 'tab' && tab ? [tab.name] : null,
    selections: asked(selections),
    viewing: { parameters: set, zone, view: page.view.view },
    ...(form === 'pdf' ? { paper } : {}),
    ...(detail === 'usual' ? {} : { detail }),
    ...(isSized(what, form) ? size : {}),
    // What is looked at as a draft has an address of its own, which is nobody else's.
    link: pathname === `/d/${encodeURIComponent(page.name)}` ? `${pathname}${search}` : null,
  });
}

/** Makes files at an address of the service, one at a time, and says what becomes of each. */
function useMaking(path: string, dashboard: string) {
  const [problem, setProblem] = useState<string>();
  const [made, setMade] = useState<string>();
  const [isMaking, setMaking] = useState(false);
  const [howFar, setHowFar] = useState<string>();
  const making = useRef<AbortController>(undefined);
  useEffect(() => () => making.current?.abort(), []);
  // What draws pages is begun while the form of the file is chosen. Where that can't be, the file itself says why.
  useEffect(() => {
    api.POST('/api/dashboards/{dashboard}/exports/coming', { params: { path: { dashboard } } }).catch(() => undefined);
  }, [dashboard]);

  /** @param act Makes a file; what it gives back is said of it. */
  async function work(act: (waiting: Waiting) => Promise<string>) {
    setProblem(undefined);
    setMade(undefined);
    setHowFar(undefined);
    setMaking(true);
    const stop = new AbortController();
    making.current = stop;
    try {
      setMade(await act({ signal: stop.signal, onProgress: setHowFar }));
    } catch (error) {
      if (!stop.signal.aborted) setProblem(error instanceof Error ? error.message : String(error));
    } finally {
      setMaking(false);
    }
  }

  const make = (request: object) =>
    work(async (waiting) => `${await saved(path, request, waiting)} is with your downloads.`);

  /** Opens the pages in a tab of their own, from where the browser prints them. */
  function print(request: object) {
    // At once, while it is plain that a person wants it; browsers open nothing later.
    const tab = window.open('', '_blank');
    return work(async (waiting) => {
      try {
        const pages = URL.createObjectURL(await (await fileOf(path, request, waiting)).blob());
        if (!tab) return 'Let this page open a tab, or make the file and print that.';
        tab.location.replace(pages);
        return 'Print it from the tab that was opened.';
      } catch (error) {
        tab?.close();
        throw error;
      }
    });
  }
  return { make, print, stop: () => making.current?.abort(), isMaking, howFar, made, problem };
}
