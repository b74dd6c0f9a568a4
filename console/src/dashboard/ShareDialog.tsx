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
  const title = usePage((s) => s.page.view.title) ?? 'My view';
  const { shares, share, withdraw } = useShares();
  const [problem, run] = useTold();
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
            <Shared key={s.id} of={s} onWithdraw={() => run(() => withdraw(s.id))} />
          ))}
        </ul>
      )}
      <ShareForm problem={problem} onShare={(whom, done) => run(() => share(whom).then(done))} />
    </Modal>
  );
}

type Share = Schemas['ShareInfo'];

/** With whom, and whether they see what is changed later. */
interface Whom {
  /** A person or a role with its name after a colon; or whoever has the link. */
  whom: string;
  live: boolean;
}

/** Who can see the open view, as the service has it, and what changes that. */
function useShares() {
  const dashboard = usePage((s) => s.page.name);
  const view = usePage((s) => s.page.view.view);
  const path = { dashboard, view: view === '' ? 'my' : view };
  const queries = useQueryClient();
  const key = ['shares', dashboard, view];
  const take = (now: Share[]) => queries.setQueryData(key, now);
  const shares = useQuery({
    queryKey: key,
    queryFn: () => unwrap(api.GET('/api/dashboards/{dashboard}/views/{view}/shares', { params: { path } })),
  });
  const share = async ({ whom, live }: Whom) => {
    const [kind, name = ''] = whom.split(/:(.*)/s);
    const body = {
      person: kind === 'person' ? name : null,
      role: kind === 'role' ? name : null,
      link: kind === byLink,
      live,
    };
    take(await unwrap(api.POST('/api/dashboards/{dashboard}/views/{view}/shares', { params: { path }, body })));
  };
  const withdraw = async (id: string) => {
    const params = { path: { ...path, share: id } };
    take(await unwrap(api.DELETE('/api/dashboards/{dashboard}/views/{view}/shares/{share}', { params })));
  };
  return { shares, share, withdraw };
}

/** One who can see it, and an end to that. */
function Shared({ of, onWithdraw }: { of: Share; onWithdraw: () => void }) {
  const dashboard = usePage((s) => s.page.name);
  return (
    <li>
      <span>
        {of.title}
        <span className="quiet">{of.isLive ? ', as it is whenever they look' : ', as it was when you shared it'}</span>
        {of.kind === byLink && (
          <TextInput
            size="xs"
            readOnly
            aria-label="The link"
            value={`${window.location.origin}/d/${dashboard}?view=${of.view}`}
            onFocus={(e) => e.target.select()}
          />
        )}
      </span>
      <Button size="compact-xs" variant="subtle" aria-label={`Withdraw from ${of.title}`} onClick={onWithdraw}>
        Withdraw
      </Button>
    </li>
  );
}

interface ShareFormProps {
  problem: string | undefined;
  /** Shares it; says so once that is done. */
  onShare: (whom: Whom, done: () => void) => void;
}

/** Lets others see it. */
function ShareForm({ problem, onShare }: ShareFormProps) {
  const dashboard = usePage((s) => s.page.name);
  const [whom, setWhom] = useState<string | null>(null);
  const [live, setLive] = useState(true);
  const recipients = useQuery({
    queryKey: ['recipients', dashboard],
    queryFn: () => unwrap(api.GET('/api/dashboards/{dashboard}/recipients', { params: { path: { dashboard } } })),
  });
  const group = (name: string, isRole: boolean) => ({
    group: name,
    items: (recipients.data ?? [])
      .filter((r) => r.isRole === isRole)
      .map((r) => ({ value: `${isRole ? 'role' : 'person'}:${r.name}`, label: r.title })),
  });
  return (
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
        checked={live}
        onChange={(e) => setLive(e.currentTarget.checked)}
      />
      <p className="quiet">
        They see it under their own rights, for reading; what they may not see is left out. They can make a view of
        their own from it.
      </p>
      {recipients.error && <p role="alert">{recipients.error.message}</p>}
      {problem && <p role="alert">{problem}</p>}
      <Button disabled={whom === null} onClick={() => whom !== null && onShare({ whom, live }, () => setWhom(null))}>
        Share
      </Button>
    </div>
  );
}
