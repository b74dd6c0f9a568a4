import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { Download, Send } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import { api, unwrap } from '../api/client';
import { saved } from '../api/files';
import type { components } from '../api/schema';
import { timeIn } from '../look/when';
import { useSession } from '../session/SignedIn';
import classes from './dashboards.module.css';

type Report = components['schemas']['ReportInfo'];

const Sending = lazy(() => import('./Sending'));
const RunReport = lazy(() => import('./RunReport'));

/** The reports that the viewer may have made, each with a button that does. */
export default function Reports() {
  const list = useQuery({ queryKey: ['reports'], queryFn: () => unwrap(api.GET('/api/reports')) });
  const [told, setTold] = useState<{ report: string; text: string; isProblem?: boolean }>();
  const [making, setMaking] = useState<string>();
  const [sending, setSending] = useState<Report>();
  const [running, setRunning] = useState<Report>();
  const mayPublish = useSession().may.includes('publish');
  if (!list.data || list.data.length === 0) return null;

  async function make(report: string, wanted: components['schemas']['ReportRun'] = {}) {
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

  return (
    <>
      <h2>Reports</h2>
      <ul className={classes.list} aria-label="Reports">
        {list.data.map((r) => (
          <li key={r.name} className={classes.report}>
            <div className={classes.line}>
              <span className={classes.title}>{r.title}</span>
              <span className={classes.description}>{r.description ?? `Of ${r.dashboardTitle}`}</span>
              {r.times && (
                <span className={classes.description}>
                  {r.comesToYou ? 'Comes to you by mail' : 'Goes out'} {r.times.words}
                  {r.isConditional && ', if its condition holds'}
                  {r.times.next[0] && `; next ${timeIn(r.times.zone, r.times.next[0])} (${r.times.zone})`}
                </span>
              )}
              {told?.report === r.name && (
                <span className={classes.told} role={told.isProblem ? 'alert' : 'status'}>
                  {told.text}
                </span>
              )}
            </div>
            <div className={classes.acts}>
              <Button
                size="compact-sm"
                variant="default"
                aria-label={`Make the file: ${r.title}`}
                leftSection={<Download size={14} aria-hidden />}
                loading={making === r.name}
                disabled={making !== undefined}
                onClick={() => void make(r.name)}
              >
                Make the file
              </Button>
              <Button
                size="compact-sm"
                variant="default"
                aria-label={`With other values: ${r.title}`}
                disabled={making !== undefined}
                onClick={() => setRunning(r)}
              >
                With other values …
              </Button>
              {mayPublish && (
                <Button
                  size="compact-sm"
                  variant="default"
                  aria-label={`Sending: ${r.title}`}
                  leftSection={<Send size={14} aria-hidden />}
                  onClick={() => setSending(r)}
                >
                  Sending
                </Button>
              )}
            </div>
          </li>
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
