import { Button, MultiSelect } from '@mantine/core';
import '@mantine/core/styles/Pill.css';
import '@mantine/core/styles/PillsInput.css';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'wouter';
import { api, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { Beside } from '../design/Beside';
import type { Said, Step } from '../design/written';
import classes from './data.module.css';

const access = { path: { kind: 'access', name: 'access' } };

/** What a text of access says of its roles. */
type Roles = Record<string, { title?: Said; reads?: Said }>;

/** Who may read a new dataset: written into the text of access and published, all rows and fields for each of the chosen roles. */
export default function GrantDataset({ dataset }: { dataset: string }) {
  const [chosen, setChosen] = useState<string[]>([]);
  const [granted, setGranted] = useState<{ roles: string[]; beside: string[] }>();
  const [problem, run] = useTold();
  const queries = useQueryClient();
  const draft = useQuery({
    queryKey: ['draft', 'access'],
    gcTime: 0,
    queryFn: () => unwrap(api.GET('/api/drafts/{kind}/{name}', { params: access })),
  });
  const said = draft.data?.written?.said as { roles?: Roles } | undefined;
  const roles = said?.roles ?? {};
  if (draft.error) return <p role="alert">{draft.error.message}</p>;
  if (!draft.data) return null;
  if (granted)
    return (
      <>
        <p role="status">
          {granted.roles.length === 1 ? 'The role' : 'The roles'} {granted.roles.join(', ')} may read it now.
        </p>
        <Beside told={granted.beside} />
      </>
    );
  // What else stands in that draft is somebody's work that is not done yet.
  if (draft.data.isDraft)
    return (
      <p>
        You have a draft of access: grant the dataset to roles <Link to="/definitions/access/access">there</Link>.
      </p>
    );
  const grant = () =>
    run(async () => {
      const steps: Step[] = chosen.map((role) => {
        const reads = roles[role]?.reads;
        return reads !== undefined && typeof reads !== 'string' && !Array.isArray(reads)
          ? { do: 'set', at: ['roles', role, 'reads', dataset], value: 'all' }
          : { do: 'set', at: ['roles', role, 'reads'], value: { [dataset]: 'all' } };
      });
      const now = await unwrap(api.POST('/api/drafts/{kind}/{name}/steps', { params: access, body: { steps } }));
      let beside: string[] = [];
      try {
        const answer = await unwrap(
          api.POST('/api/drafts/{kind}/{name}/publish', {
            params: access,
            body: { step: now.step, why: `${dataset} is read by ${chosen.join(', ')}`, replace: false },
          }),
        );
        if (!answer.accepted) throw new Error(answer.faults.map((f) => f.message).join(' '));
        beside = answer.beside ?? [];
      } catch (e) {
        await api.DELETE('/api/drafts/{kind}/{name}', { params: access });
        throw e;
      }
      setGranted({ roles: chosen, beside });
      await queries.invalidateQueries();
    });
  return (
    <div className={classes.fields}>
      <MultiSelect
        size="xs"
        label="Who may read it"
        description="With all its rows and fields; less than that is said in access."
        placeholder={chosen.length === 0 ? 'Roles' : undefined}
        data={Object.entries(roles)
          .filter(([, r]) => r.reads !== 'all')
          .map(([name, r]) => ({ value: name, label: typeof r.title === 'string' ? r.title : name }))}
        value={chosen}
        onChange={setChosen}
      />
      {problem && (
        <p role="alert" className={classes.fault}>
          {problem}
        </p>
      )}
      <Button size="xs" disabled={chosen.length === 0} onClick={grant}>
        Let them read it
      </Button>
    </div>
  );
}
