import { Button, Checkbox, Modal, Select, TextInput } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Schemas, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import classes from './dashboard.module.css';
import { usePage } from './usePage';
import '../look/panels.css';

const byLink = 'link';

/** Who can see the open view, in words, and a way to let others see it and to end that. */
export default function ShareDialog({ onClose }: { onClose: () => void }) {
  const dashboard = usePage((s) => s.page.name);
  const view = usePage((s) => s.page.view.view);
  const title = usePage((s) => s.page.view.title) ?? 'My view';
  const path = { dashboard, view: view === '' ? 'my' : view };
  const queries = useQueryClient();
  const [problem, run] = useTold();
  const [whom, setWhom] = useState<string | null>(null);
  const [isLive, setLive] = useState(true);
  const key = ['shares', dashboard, view];
  const shares = useQuery({
    queryKey: key,
    queryFn: () => unwrap(api.GET('/api/dashboards/{dashboard}/views/{view}/shares', { params: { path } })),
  });
  const recipients = useQuery({
    queryKey: ['recipients', dashboard],
    queryFn: () => unwrap(api.GET('/api/dashboards/{dashboard}/recipients', { params: { path: { dashboard } } })),
  });
  const take = (now: Schemas['ShareInfo'][]) => queries.setQueryData(key, now);
  const group = (name: string, isRole: boolean) => ({
    group: name,
    items: (recipients.data ?? [])
      .filter((r) => r.isRole === isRole)
      .map((r) => ({ value: `${isRole ? 'role' : 'person'}:${r.name}`, label: r.title })),
  });

  async function share() {
    if (whom === null) return;
    const [kind, name = ''] = whom.split(/:(.*)/s);
    const body = {
      person: kind === 'person' ? name : null,
      role: kind === 'role' ? name : null,
      link: kind === byLink,
      live: isLive,
    };
    take(await unwrap(api.POST('/api/dashboards/{dashboard}/views/{view}/shares', { params: { path }, body })));
    setWhom(null);
  }

  async function withdraw(id: string) {
    take(
      await unwrap(
        api.DELETE('/api/dashboards/{dashboard}/views/{view}/shares/{share}', {
          params: { path: { ...path, share: id } },
        }),
      ),
    );
  }

  const addressOf = (s: Schemas['ShareInfo']) => `${window.location.origin}/d/${dashboard}?view=${s.view}`;
  return (
    <Modal
      opened
      onClose={onClose}
      title={`Who can see ${title}`}
      size="md"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {shares.error && <p role="alert">{shares.error.message}</p>}
      {shares.data?.length === 0 && <p>Only you.</p>}
      {shares.data && shares.data.length > 0 && (
        <ul className={classes.shares} aria-label="Who can see it">
          <li>You</li>
          {shares.data.map((s) => (
            <li key={s.id}>
              <span>
                {s.title}
                <span className="quiet">
                  {s.isLive ? ', as it is whenever they look' : ', as it was when you shared it'}
                </span>
                {s.kind === byLink && (
                  <TextInput
                    size="xs"
                    readOnly
                    aria-label="The link"
                    value={addressOf(s)}
                    onFocus={(e) => e.target.select()}
                  />
                )}
              </span>
              <Button
                size="compact-xs"
                variant="subtle"
                aria-label={`Withdraw from ${s.title}`}
                onClick={() => run(() => withdraw(s.id))}
              >
                Withdraw
              </Button>
            </li>
          ))}
        </ul>
      )}
      <div className={classes.viewForm}>
        <Select
          label="Share it with"
          placeholder={recipients.isPending ? 'Coming …' : 'A person, a role, or by link'}
          searchable
          data={[{ value: byLink, label: 'Whoever has the link' }, group('Roles', true), group('People', false)]}
          value={whom}
          onChange={setWhom}
        />
        <Checkbox
          label="Let them see what I change later"
          checked={isLive}
          onChange={(e) => setLive(e.currentTarget.checked)}
        />
        <p className="quiet">
          They see it under their own rights, for reading; what they may not see is left out. They can make a view of
          their own from it.
        </p>
        {recipients.error && <p role="alert">{recipients.error.message}</p>}
        {problem && <p role="alert">{problem}</p>}
        <Button disabled={whom === null} onClick={() => run(share)}>
          Share
        </Button>
      </div>
    </Modal>
  );
}
