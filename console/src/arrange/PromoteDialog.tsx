import { Alert, Button, Checkbox, Modal, MultiSelect, TextInput } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { api, type Schemas, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { usePage } from '../dashboard/usePage';
import { Beside } from '../design/Beside';
import classes from './arrange.module.css';
import '@mantine/core/styles/Alert.css';
import '../look/panels.css';

/** Makes the open view what others find when they open the dashboard. */
export default function PromoteDialog({ onClose }: { onClose: () => void }) {
  const { name: dashboard, view } = usePage((s) => s.page);
  const queries = useQueryClient();
  const [roles, setRoles] = useState<string[]>([]);
  const [name, setName] = useState('');
  const [replace, setReplace] = useState(false);
  const [done, setDone] = useState<Schemas['PromotedInfo']>();
  const [problem, run] = useTold();
  const access = useQuery({
    queryKey: ['access', dashboard],
    queryFn: () => unwrap(api.GET('/api/access/dashboards/{dashboard}', { params: { path: { dashboard } } })),
  });
  const usual = roles.length === 0 ? dashboard : `${dashboard}-${roles[0]}`;

  async function promote() {
    const made = await unwrap(
      api.POST('/api/dashboards/{dashboard}/views/{view}/promote', {
        params: { path: { dashboard, view: view.view === '' ? 'my' : view.view } },
        body: { roles, name: name.trim() || null, replace },
      }),
    );
    setDone(made);
    if (made.answer.accepted) await queries.invalidateQueries({ queryKey: ['dashboard', dashboard] });
  }

  return (
    <Modal
      opened
      onClose={onClose}
      title="Make it the opening view"
      size="lg"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {done?.answer.accepted ? (
        <div className={classes.form}>
          <p role="status">
            Published as version {done.answer.version}, in the file <code>{done.path}</code> of the workspace. Who has
            changed nothing finds it at once; others are told.
          </p>
          <Beside told={done.answer.beside} />
          <pre className={classes.file}>{done.text}</pre>
          <Button onClick={onClose}>Done</Button>
        </div>
      ) : (
        <form
          className={classes.form}
          onSubmit={(e: FormEvent) => {
            e.preventDefault();
            run(promote);
          }}
        >
          <p className="quiet">
            Tabs, places, what is hidden and added and how tiles are drawn become what viewers begin with, within the
            rights of each. Picks do not go with it. It becomes a file of the workspace, to be read and changed as any
            other.
          </p>
          <MultiSelect
            label="For the roles"
            placeholder={roles.length === 0 ? 'Everybody' : ''}
            data={(access.data?.lines ?? []).filter((l) => l.isRole).map((l) => ({ value: l.name, label: l.title }))}
            value={roles}
            onChange={setRoles}
          />
          <TextInput label="Name" placeholder={usual} value={name} onChange={(e) => setName(e.currentTarget.value)} />
          <Checkbox
            label="Replace an opening view of this name"
            checked={replace}
            onChange={(e) => setReplace(e.currentTarget.checked)}
          />
          {done?.answer.faults.map((f) => (
            <Alert key={`${f.line} ${f.message}`} color="orange">
              {f.file}:{f.line} {f.message}
            </Alert>
          ))}
          {problem && <p role="alert">{problem}</p>}
          <Button type="submit">Publish</Button>
        </form>
      )}
    </Modal>
  );
}
