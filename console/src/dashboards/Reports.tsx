import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { Download, Send } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import { api, type Schemas, unwrap } from '../api/client';
import { saved } from '../api/files';
import { timeIn } from '../look/when';
import { useSession } from '../session/SignedIn';
import classes from './dashboards.module.css';

type Report = Schemas['ReportInfo'];

const Sending = lazy(() => import('./Sending'));
const RunReport = lazy(() => import('./RunReport'));

/** What became of the file of a report, in words. */
interface Told {
  report: string;
  text: string;
  isProblem?: boolean;
}

/** Makes files of reports, one at a time, and tells how far it is. */
function useMaking() {
  const [told, setTold] = useState<Told>();
  const [making, setMaking] = useState<string>();
  async function make(report: string, wanted: Schemas['ReportRun'] = {}) {
    setMaking(report);
    setTold({ report, text: 'It is being made …' });
    try {
      const name = await saved(`/api/reports/${encodeURIComponent(report)}/run`, wanted, {
        onProgress: (text) => setTold({ report, text }),
      });
      setTold({ report, text: `${name} is with your downloads.` });
    } catch (error) {
      setTold({ report, text: error instanceof Error ? error.message : String(error), isProblem: true });
    } finally {
      setMaking(undefined);
    }
  }
  return { told, making, make };
}

/** The reports that the viewer may have made, each with a button that does. */
export default function Reports() {
  const list = useQuery({ queryKey: ['reports'], queryFn: () => unwrap(api.GET('/api/reports')) });
  const { told, making, make } = useMaking();
  const [sending, setSending] = useState<Report>();
  const [running, setRunning] = useState<Report>();
  const mayPublish = useSession().may.includes('publish');
  if (!list.data || list.data.length === 0) return null;
  return (
    <>
      <h2>Reports</h2>
      <ul className={classes.list} aria-label="Reports">
        {list.data.map((r) => (
          <Entry
            key={r.name}
            of={r}
            told={told?.report === r.name ? told : undefined}
            making={making}
            onMake={() => void make(r.name)}
            onRun={() => setRunning(r)}
            onSending={mayPublish ? () => setSending(r) : undefined}
          />
        ))}
      </ul>
      {running && (
        <Suspense>
          <RunReport
            report={running}
            onMake={(wanted) => void make(running.name, wanted)}
            onClose={() => setRunning(undefined)}
          />
        </Suspense>
      )}
      {sending && (
        <Suspense>
          <Sending report={sending.name} title={sending.title} onClose={() => setSending(undefined)} />
        </Suspense>
      )}
    </>
  );
}

interface EntryProps {
  of: Report;
  told: Told | undefined;
  /** The report whose file is being made. */
  making: string | undefined;
  onMake: () => void;
  onRun: () => void;
  onSending: (() => void) | undefined;
}

/** A report: what it is of, when it comes, and its file. */
function Entry({ of, told, making, onMake, onRun, onSending }: EntryProps) {
  const { title, times } = of;
  return (
    <li className={classes.report}>
      <div className={classes.line}>
        <span className={classes.title}>{title}</span>
        <span className={classes.description}>{of.description ?? `Of ${of.dashboardTitle}`}</span>
        {times && (
          <span className={classes.description}>
            {of.comesToYou ? 'Comes to you by mail' : 'Goes out'} {times.words}
            {of.isConditional && ', if its condition holds'}
            {times.next[0] && `; next ${timeIn(times.zone, times.next[0])} (${times.zone})`}
          </span>
        )}
        {told && (
          <span className={classes.told} role={told.isProblem ? 'alert' : 'status'}>
            {told.text}
          </span>
        )}
      </div>
      <div className={classes.acts}>
        <Button
          size="compact-sm"
          variant="default"
          aria-label={`Make the file: ${title}`}
          leftSection={<Download size={14} aria-hidden />}
          loading={making === of.name}
          disabled={making !== undefined}
          onClick={onMake}
        >
          Make the file
        </Button>
        <Button
          size="compact-sm"
          variant="default"
          aria-label={`With other values: ${title}`}
          disabled={making !== undefined}
          onClick={onRun}
        >
          With other values …
        </Button>
        {onSending && (
          <Button
            size="compact-sm"
            variant="default"
            aria-label={`Sending: ${title}`}
            leftSection={<Send size={14} aria-hidden />}
            onClick={onSending}
          >
            Sending
          </Button>
        )}
      </div>
    </li>
  );
}
