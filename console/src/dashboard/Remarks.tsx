import { Button, Checkbox, Modal, Textarea } from '@mantine/core';
import '../look/panels.css';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { flushSync } from 'react-dom';
import { api, unwrap } from '../api/client';
import type { components } from '../api/schema';
import { useTold } from '../api/useTold';
import { whenOf } from '../look/when';
import { wiringOf } from '../model/wiring';
import classes from './dashboard.module.css';
import { usePage } from './usePage';

type Remark = components['schemas']['RemarkInfo'];
type All = components['schemas']['RemarksInfo'];

/** What was written about the dashboard to those who look after it, what is answered, and a place to write. */
export default function Remarks({ tile, onClose }: { tile?: string; onClose: () => void }) {
  const page = usePage((s) => s.page);
  const of = tile === undefined ? undefined : wiringOf(page).named.get(tile);
  const params = { path: { dashboard: page.name } };
  const key = ['remarks', page.name];
  const client = useQueryClient();
  const list = useQuery({
    queryKey: key,
    queryFn: () => unwrap(api.GET('/api/dashboards/{dashboard}/remarks', { params })),
  });
  const [text, setText] = useState('');
  const [problem, act] = useTold();
  const take = async (answer: Promise<All>) => client.setQueryData(key, await answer);
  const add = () =>
    act(async () => {
      const body = {
        text,
        tile: tile ?? null,
        link: `${window.location.pathname}${window.location.search}`,
      };
      await take(unwrap(api.POST('/api/dashboards/{dashboard}/remarks', { params, body })));
      setText('');
    });
  const setMail = (wanted: boolean) =>
    act(() => take(unwrap(api.PUT('/api/dashboards/{dashboard}/remarks/mail', { params, body: { wanted } }))));
  const remarks = (list.data?.remarks ?? []).filter((r) => tile === undefined || r.tile === tile);
  return (
    <Modal
      opened
      onClose={onClose}
      title={of ? `Remarks on ${of.title || of.name}` : 'Remarks on this dashboard'}
      size="lg"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <div className={classes.remarks}>
        <p className="quiet">
          {list.data?.looksAfter
            ? 'What viewers wrote about it, as far as you see what it is about.'
            : 'Those who look after this dashboard read what you write, with the state that you see now; nobody else does.'}
        </p>
        <Textarea
          label={of ? `Write about ${of.title || of.name}` : 'Write about the dashboard'}
          autosize
          minRows={2}
          maxRows={8}
          maxLength={2000}
          value={text}
          onChange={(e) => setText(e.currentTarget.value)}
        />
        <div className={classes.takingEnd}>
          <Button disabled={text.trim() === ''} onClick={add}>
            Write it
          </Button>
        </div>
        {list.data?.mail && (
          <Checkbox
            size="xs"
            label={`Tell me by mail what is written and answered about this dashboard (${list.data.mail.address})`}
            checked={list.data.mail.wanted}
            onChange={(e) => void setMail(e.currentTarget.checked)}
          />
        )}
        {(problem || list.error) && <p role="alert">{problem ?? list.error?.message}</p>}
        {list.data && remarks.length === 0 && <p className="quiet">Nothing was written yet.</p>}
        <ul aria-label="Remarks">
          {remarks.map((r) => (
            <Written key={r.id} remark={r} take={take} dashboard={page.name} />
          ))}
        </ul>
      </div>
    </Modal>
  );
}

/** A remark with its answers, and what can be done about it. */
function Written({
  remark,
  dashboard,
  take,
}: {
  remark: Remark;
  dashboard: string;
  take: (answer: Promise<All>) => Promise<unknown>;
}) {
  const [answer, setAnswer] = useState<string>();
  const [problem, act] = useTold();
  const params = { path: { dashboard, remark: remark.id } };
  const send = () =>
    act(async () => {
      const all = await unwrap(
        api.POST('/api/dashboards/{dashboard}/remarks/{remark}/answers', { params, body: { text: answer ?? '' } }),
      );
      // The field goes before what was written in it is read: nothing moves under the hand that has read it.
      flushSync(() => setAnswer(undefined));
      await take(Promise.resolve(all));
    });
  const setDone = () =>
    act(() =>
      take(
        unwrap(
          api.PUT('/api/dashboards/{dashboard}/remarks/{remark}/done', {
            params,
            body: { done: remark.done === null },
          }),
        ),
      ),
    );
  return (
    <li>
      <p className="quiet">
        {remark.by}, {whenOf(remark.at)}
        {remark.tileTitle && `, on ${remark.tileTitle}`}
        {remark.done && ` · done ${whenOf(remark.done)}, ${remark.doneBy}`}
      </p>
      <p className={classes.said}>{remark.text}</p>
      {remark.answers.map((a) => (
        <div key={`${a.at} ${a.by}`} className={classes.answer}>
          <p className="quiet">
            {a.by}, {whenOf(a.at)}
          </p>
          <p className={classes.said}>{a.text}</p>
        </div>
      ))}
      {answer !== undefined && (
        <Textarea
          aria-label="Your answer"
          autosize
          minRows={1}
          maxLength={2000}
          value={answer}
          onChange={(e) => setAnswer(e.currentTarget.value)}
        />
      )}
      {problem && <p role="alert">{problem}</p>}
      <div className={classes.remarkActs}>
        {/* Loaded anew: the page as its writer saw it, with the reader's own rows. */}
        <a href={remark.link}>As it was seen</a>
        {answer === undefined ? (
          <Button size="compact-sm" variant="default" onClick={() => setAnswer('')}>
            Answer
          </Button>
        ) : (
          <Button size="compact-sm" disabled={answer.trim() === ''} onClick={send}>
            Send the answer
          </Button>
        )}
        <Button size="compact-sm" variant="default" onClick={setDone}>
          {remark.done === null ? 'It is done' : 'Open it again'}
        </Button>
      </div>
    </li>
  );
}
