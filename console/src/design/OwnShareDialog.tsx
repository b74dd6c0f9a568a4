import { Button, Modal, Select } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Schemas, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import classes from '../dashboard/dashboard.module.css';
import '../look/panels.css';
import '../pictures/parts/controls.css';

/** Who can see a dashboard of one's own, and a way to let others see it and to end that. */
export default function OwnShareDialog({ name, onClose }: { name: string; onClose: () => void }) {
  const params = { path: { dashboard: name } };
  const key = ['own shares', name];
  const queries = useQueryClient();
  const [problem, run] = useTold();
  const [whom, setWhom] = useState<string | null>(null);
  const told = useQuery({
    queryKey: key,
    queryFn: () => unwrap(api.GET('/api/own-dashboards/{dashboard}/shares', { params })),
  });
  const take = (now: Schemas['OwnSharesAnswer']) => queries.setQueryData(key, now);
  const shares = told.data?.shares ?? [];
  const group = (title: string, isRole: boolean) => ({
    group: title,
    items: (told.data?.recipients ?? [])
      .filter((r) => r.isRole === isRole && !shares.some((s) => s.name === r.name && (s.kind === 'role') === isRole))
      .map((r) => ({ value: `${isRole ? 'role' : 'person'}:${r.name}`, label: r.title })),
  });
  const share = () =>
    run(async () => {
      const [kind, other = ''] = (whom ?? '').split(/:(.*)/s);
      const body = kind === 'role' ? { role: other, person: null } : { person: other, role: null };
      take(await unwrap(api.POST('/api/own-dashboards/{dashboard}/shares', { params, body })));
      setWhom(null);
    });
  return (
    <Modal opened onClose={onClose} title="Who can see it" size="md" closeButtonProps={{ 'aria-label': 'Close' }}>
      {told.error && <p role="alert">{told.error.message}</p>}
      {told.data && shares.length === 0 && <p>Only you.</p>}
      {shares.length > 0 && (
        <ul className={classes.shares} aria-label="Who can see it">
          <li>You</li>
          {shares.map((s) => (
            <li key={`${s.kind} ${s.name}`}>
              <span>{s.kind === 'role' ? `the role ${s.title}` : s.title}</span>
              <Button
                size="compact-xs"
                variant="subtle"
                aria-label={`Withdraw from ${s.title}`}
                onClick={() =>
                  run(async () =>
                    take(
                      await unwrap(
                        api.DELETE('/api/own-dashboards/{dashboard}/shares/{kind}/{name}', {
                          params: { path: { dashboard: name, kind: s.kind, name: s.name } },
                        }),
                      ),
                    ),
                  )
                }
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
          placeholder={told.isPending ? 'Coming …' : 'A person or a role'}
          searchable
          data={[group('Roles', true), group('People', false)]}
          value={whom}
          onChange={setWhom}
        />
        <p className="quiet">
          They see it as it is whenever they look, under their own rights and for reading; what they may not see is left
          out.
        </p>
        {problem && <p role="alert">{problem}</p>}
        <Button disabled={whom === null} onClick={share}>
          Share
        </Button>
      </div>
    </Modal>
  );
}
