import { Button, Select } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { Mail } from 'lucide-react';
import { useState } from 'react';
import { api, unwrap, zone } from '../api/client';
import type { components } from '../api/schema';
import { timeIn } from '../look/when';
import classes from './dashboard.module.css';

const days = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

/** The days on which it may come; the words are those that the service reads. */
const choices = [
  { value: 'every weekday', label: 'Every weekday' },
  { value: 'every day', label: 'Every day' },
  ...days.map((d) => ({ value: `every ${d}`, label: `Every ${d}` })),
  { value: 'every month on day 1', label: 'On the first of every month' },
  { value: 'every month on the last day', label: 'On the last of every month' },
];

/** Every half an hour of a day. */
const times = Array.from({ length: 48 }, (_, n) => `${String(n >> 1).padStart(2, '0')}:${n % 2 ? '30' : '00'}`);

/** Has the viewer sent what they see again and again, in its form and its state. */
export default function Subscribing({
  dashboard,
  state,
}: {
  dashboard: string;
  state: () => components['schemas']['ExportRequest'];
}) {
  const [on, setOn] = useState('every Monday');
  const [at, setAt] = useState('08:00');
  const [told, setTold] = useState<{ text: string; isProblem?: boolean }>();
  const client = useQueryClient();

  async function subscribe() {
    setTold(undefined);
    try {
      const added = await unwrap(
        api.POST('/api/dashboards/{dashboard}/subscriptions', {
          params: { path: { dashboard } },
          body: { when: `${on} at ${at}`, zone, state: state() },
        }),
      );
      await client.invalidateQueries({ queryKey: ['subscriptions'] });
      const next = added.times.next[0];
      setTold({
        text: `It comes by mail ${added.times.words}${next ? `, first ${timeIn(added.times.zone, next)}` : ''}. The list of dashboards ends it, and so does each mail.`,
      });
    } catch (error) {
      setTold({ text: error instanceof Error ? error.message : String(error), isProblem: true });
    }
  }

  return (
    <div className={classes.subscribing} role="group" aria-label="Have it sent to you">
      <span className="quiet">Or have it sent to you by mail, as you see it now, with the figures of then</span>
      <div className={classes.sizes}>
        <Select
          aria-label="On which days"
          data={choices}
          value={on}
          onChange={(v) => v && setOn(v)}
          allowDeselect={false}
        />
        <Select
          aria-label="At what time"
          className={classes.time}
          data={times}
          value={at}
          onChange={(v) => v && setAt(v)}
          allowDeselect={false}
        />
        <Button variant="default" leftSection={<Mail size={14} aria-hidden />} onClick={() => void subscribe()}>
          Send it to me
        </Button>
      </div>
      {told && <p role={told.isProblem ? 'alert' : 'status'}>{told.text}</p>}
    </div>
  );
}
