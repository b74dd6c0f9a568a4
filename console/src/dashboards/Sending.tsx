import { Button, Modal } from '@mantine/core';
import '../look/panels.css';
import { useQuery } from '@tanstack/react-query';
import { Send } from 'lucide-react';
import { api, type Schemas, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { timeIn, whenOf } from '../look/when';
import classes from './dashboards.module.css';

type Run = Schemas['RunInfo'];
type Delivery = Schemas['DeliveryInfo'];
type Schedule = Schemas['ScheduleInfo'];

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
  const failed = schedule.error ?? runs.error;
  return (
    <Modal opened onClose={onClose} title={title} size="xl" closeButtonProps={{ 'aria-label': 'Close' }}>
      <div className={classes.sending}>
        {failed && <p role="alert">{failed.message}</p>}
        {schedule.data && (
          <>
            <When of={schedule.data} />
            <ToWhom readers={schedule.data.readers} problem={problem} onSend={send} />
          </>
        )}
        <section aria-label="What became of it">
          <h3>What became of it</h3>
          {runs.data?.length === 0 && <p className="quiet">It was not sent yet.</p>}
          {runs.data?.map((run, i) => (
            <WhatBecame key={run.id} of={run} isNewest={i === 0} onAgain={(to) => again(run, to)} />
          ))}
        </section>
      </div>
    </Modal>
  );
}

/** At which times, on which condition, and who is told when it fails. */
function When({ of: { times, onlyIf, owner } }: { of: Schedule }) {
  return (
    <section aria-label="When">
      <h3>When</h3>
      {times ? (
        <>
          <p>
            {times.words} <span className="quiet">({times.zone})</span>
          </p>
          <p className="quiet">Next: {times.next.map((t) => timeIn(times.zone, t)).join(' · ')}</p>
        </>
      ) : (
        <p>By hand only.</p>
      )}
      {onlyIf && (
        <p>
          Only if {onlyIf.holds && <code>{onlyIf.holds}</code>}
          {onlyIf.holds && onlyIf.whenEmpty && ', or '}
          {onlyIf.whenEmpty && 'there are no rows'} on {onlyIf.tileTitle}, with the rows of each reader
          {onlyIf.notAgainHours !== null && `; not again within ${onlyIf.notAgainHours} hours`}.
        </p>
      )}
      <p className="quiet">Told when it fails or comes late: {owner || 'nobody'}.</p>
    </section>
  );
}

interface ToWhomProps {
  readers: Schedule['readers'];
  problem: string | undefined;
  onSend: () => void;
}

/** Who gets it, by which way; all of them at once by a button. */
function ToWhom({ readers, problem, onSend }: ToWhomProps) {
  return (
    <section aria-label="To whom">
      <h3>To whom, each with the rows that they may see</h3>
      {readers.length === 0 && <p>Nobody.</p>}
      <ul className={classes.readers}>
        {readers.map((r) => (
          <li key={r.reader}>
            {r.title} <span className="quiet">{r.problem ?? `by ${r.way}, ${r.address}`}</span>
          </li>
        ))}
      </ul>
      {readers.length > 0 && (
        <Button size="compact-sm" variant="default" leftSection={<Send size={14} aria-hidden />} onClick={onSend}>
          Send it to all of them now
        </Button>
      )}
      {problem && <p role="alert">{problem}</p>}
    </section>
  );
}

/** What became of one time that it was sent, and of it for each who was to get it. */
function WhatBecame({ of, isNewest, onAgain }: { of: Run; isNewest: boolean; onAgain: (to: Delivery) => void }) {
  return (
    <details className={classes.run} open={isNewest || undefined}>
      <summary>
        {whenOf(of.due)}
        {why[of.why]}: <strong>{states[of.state] ?? of.state}</strong>{' '}
        <span className="quiet">
          {of.statements} statements, {(of.milliseconds / 1000).toFixed(1)} s
        </span>
      </summary>
      {of.reason && <p>{of.reason}</p>}
      <ul className={classes.readers}>
        {of.deliveries.map((d) => (
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
                onClick={() => onAgain(d)}
              >
                Send again
              </Button>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
