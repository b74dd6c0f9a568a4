import { Button, Modal } from '@mantine/core';
import '../look/panels.css';
import { useQuery } from '@tanstack/react-query';
import { Send } from 'lucide-react';
import { api, unwrap } from '../api/client';
import type { components } from '../api/schema';
import { useTold } from '../api/useTold';
import { timeIn, whenOf } from '../look/when';
import classes from './dashboards.module.css';

type Run = components['schemas']['RunInfo'];
type Delivery = components['schemas']['DeliveryInfo'];

/** What became of something, in words; each is another thing than the others. */
const states: Record<string, string> = {
  planned: 'waits to be made',
  making: 'is being made',
  sending: 'is being sent',
  ready: 'waits to be sent',
  handing: 'is being handed over',
  sent: 'sent',
  unsure: 'may have arrived',
  failed: 'failed',
  refused: 'not for them',
  'not-met': 'the condition does not hold',
  paused: 'not again so soon',
  unknown: 'the condition could not be worked out',
  nobody: 'nobody gets it',
};

const why: Record<string, string> = { schedule: '', missed: ', late', hand: ', by hand' };

/** When a report goes out, to whom, and what became of it: for those who publish. */
export default function Sending({ report, title, onClose }: { report: string; title: string; onClose: () => void }) {
  const path = { params: { path: { report } } };
  const schedule = useQuery({
    queryKey: ['schedule', report],
    queryFn: () => unwrap(api.GET('/api/reports/{report}/schedule', path)),
  });
  const runs = useQuery({
    queryKey: ['runs', report],
    queryFn: () => unwrap(api.GET('/api/runs', { params: { query: { report, count: 10 } } })),
    // While something is on its way, what becomes of it is seen as it comes.
    refetchInterval: (query) => (query.state.data?.some((r) => !r.ended) ? 1000 : 15_000),
  });
  const [problem, act] = useTold();
  const send = () =>
    act(async () => {
      await unwrap(api.POST('/api/reports/{report}/send', path));
      await runs.refetch();
    });
  const again = (run: Run, to: Delivery) =>
    act(async () => {
      await unwrap(
        api.POST('/api/runs/{run}/again', { params: { path: { run: run.id } }, body: { reader: to.reader } }),
      );
      await runs.refetch();
    });
  const data = schedule.data;
  const failed = schedule.error ?? runs.error;
  return (
    <Modal opened onClose={onClose} title={title} size="xl" closeButtonProps={{ 'aria-label': 'Close' }}>
      <div className={classes.sending}>
        {failed && <p role="alert">{failed.message}</p>}
        {data && (
          <>
            <section aria-label="When">
              <h3>When</h3>
              {data.times ? (
                <>
                  <p>
                    {data.times.words} <span className="quiet">({data.times.zone})</span>
                  </p>
                  <p className="quiet">
                    Next: {data.times.next.map((t) => timeIn(data.times?.zone ?? 'UTC', t)).join(' · ')}
                  </p>
                </>
              ) : (
                <p>By hand only.</p>
              )}
              {data.onlyIf && (
                <p>
                  Only if {data.onlyIf.holds && <code>{data.onlyIf.holds}</code>}
                  {data.onlyIf.holds && data.onlyIf.whenEmpty && ', or '}
                  {data.onlyIf.whenEmpty && 'there are no rows'} on {data.onlyIf.tileTitle}, with the rows of each
                  reader
                  {data.onlyIf.notAgainHours !== null && `; not again within ${data.onlyIf.notAgainHours} hours`}.
                </p>
              )}
              <p className="quiet">Told when it fails or comes late: {data.owner || 'nobody'}.</p>
            </section>
            <section aria-label="To whom">
              <h3>To whom, each with the rows that they may see</h3>
              {data.readers.length === 0 && <p>Nobody.</p>}
              <ul className={classes.readers}>
                {data.readers.map((r) => (
                  <li key={r.reader}>
                    {r.title} <span className="quiet">{r.problem ?? `by ${r.way}, ${r.address}`}</span>
                  </li>
                ))}
              </ul>
              {data.readers.length > 0 && (
                <Button size="compact-sm" variant="default" leftSection={<Send size={14} aria-hidden />} onClick={send}>
                  Send it to all of them now
                </Button>
              )}
              {problem && <p role="alert">{problem}</p>}
            </section>
          </>
        )}
        <section aria-label="What became of it">
          <h3>What became of it</h3>
          {runs.data?.length === 0 && <p className="quiet">It was not sent yet.</p>}
          {runs.data?.map((run) => (
            <details key={run.id} className={classes.run} open={run.id === runs.data[0]?.id || undefined}>
              <summary>
                {whenOf(run.due)}
                {why[run.why]}: <strong>{states[run.state] ?? run.state}</strong>{' '}
                <span className="quiet">
                  {run.statements} statements, {(run.milliseconds / 1000).toFixed(1)} s
                </span>
              </summary>
              {run.reason && <p>{run.reason}</p>}
              <ul className={classes.readers}>
                {run.deliveries.map((d) => (
                  <li key={d.reader}>
                    {d.title}: {states[d.state] ?? d.state}{' '}
                    <span className="quiet">
                      {d.reason}
                      {d.reader.startsWith('owner:') && ' (told as its owner)'}
                    </span>{' '}
                    {d.canGoAgain && (
                      <Button
                        size="compact-xs"
                        variant="default"
                        aria-label={`Send again to ${d.title}`}
                        onClick={() => again(run, d)}
                      >
                        Send again
                      </Button>
                    )}
                  </li>
                ))}
              </ul>
            </details>
          ))}
        </section>
      </div>
    </Modal>
  );
}
