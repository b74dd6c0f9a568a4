import { Button, Checkbox, Modal, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { api, type Schemas, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import { keepBeside } from './Beside';
import { Difference } from './Difference';
import classes from './design.module.css';
import '../look/panels.css';
import '../pictures/parts/controls.css';

/** What is to have another name. */
export interface Named {
  kind: 'field' | 'measure' | 'dataset' | 'dashboard';
  name: string;
  /** Of a field or measure: the dataset that it is of. */
  dataset?: string;
  /** True if viewers read a title that is made from the name. */
  isTitle: boolean;
}

interface Props {
  of: Named;
  /** True if there is a draft of its file: it keeps the old name until what is published is taken in. */
  hasDraft: boolean;
  onDone: (name: string) => void;
  onClose: () => void;
}

/** Another name for something: what it changes is seen before it is done, in all files and views at once. */
export default function RenameDialog({ of, hasDraft, onDone, onClose }: Props) {
  const [written, setWritten] = useState('');
  const [keeps, setKeeps] = useState(of.isTitle);
  const [why, setWhy] = useState('');
  const [problem, run] = useTold();
  const to = useDeferredValue(written.trim());
  const body = { kind: of.kind, from: of.name, to, dataset: of.dataset, keepTitle: of.isTitle && keeps };
  const preview = useQuery({
    queryKey: ['rename', body],
    queryFn: ({ signal }) => unwrap(api.POST('/api/renames/preview', { body, signal })),
    enabled: to !== '' && to !== of.name,
    retry: false,
    staleTime: 0,
    gcTime: 0,
  });
  const isMeant = to !== '' && to === written.trim() && to !== of.name;
  const shown = isMeant ? preview.data : undefined;
  const rename = () =>
    run(async () => {
      const answer = await unwrap(api.POST('/api/renames', { body: { ...body, why, version: shown?.version } }));
      if (!answer.accepted) throw new Error(answer.faults.map((f) => f.message).join(' '));
      keepBeside(answer.beside);
      onDone(to);
    });
  return (
    <Modal
      opened
      onClose={onClose}
      size="min(900px, 92vw)"
      title={`Another name for the ${of.kind} ${of.name}`}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <TextInput
        label="New name"
        description="Letters, digits, _ and -, a letter first. It is changed wherever it is named."
        maxLength={64}
        value={written}
        onChange={(e) => setWritten(e.currentTarget.value)}
        error={isMeant && preview.error?.message}
        data-autofocus
      />
      {of.isTitle && (
        <Checkbox
          mt="sm"
          label="Viewers go on reading the title that they read now"
          checked={keeps}
          onChange={(e) => setKeeps(e.currentTarget.checked)}
        />
      )}
      <div role="status" aria-busy={preview.isFetching}>
        {shown && <Changes preview={shown} />}
      </div>
      {hasDraft && (
        <p className="quiet">Your draft of this file has the old name until you take into it what is published here.</p>
      )}
      <TextInput
        mt="sm"
        label="Why"
        placeholder="A sentence for the history"
        maxLength={500}
        value={why}
        onChange={(e) => setWhy(e.currentTarget.value)}
      />
      {problem && <p role="alert">{problem}</p>}
      <div className={classes.bar} style={{ marginTop: 12 }}>
        <Button disabled={!shown || preview.isFetching} onClick={rename}>
          Publish the new name
        </Button>
        <Button variant="default" onClick={onClose}>
          Not yet
        </Button>
      </div>
    </Modal>
  );
}

function Changes({ preview }: { preview: Schemas['RenamePreview'] }) {
  const places = preview.files.reduce((sum, f) => sum + f.places, 0);
  const counted = (n: number, one: string, many: string) => (n === 1 ? one : `${n} ${many}`);
  return (
    <>
      <p>
        {counted(places, 'One place', 'places')} in {counted(preview.files.length, 'one file', 'files')}
        {preview.views === 0
          ? ', in no view of a viewer.'
          : `, and ${counted(preview.views, 'one view', 'views')} of viewers.`}
        {preview.ownDashboards > 0 &&
          ` ${counted(preview.ownDashboards, 'One dashboard', 'dashboards')} of viewers’ own ${preview.ownDashboards === 1 ? 'follows' : 'follow'} too.`}
      </p>
      {preview.warnings.map((w) => (
        <p key={`${w.file} ${w.line} ${w.message}`} className={classes.behind}>
          {w.file}, line {w.line}: {w.message} {w.remedy}
        </p>
      ))}
      {preview.files.map((f) => (
        <details key={f.was}>
          <summary>
            {f.was}
            {f.path !== f.was && ` becomes ${f.path}`}, {counted(f.places, 'one place', 'places')}
          </summary>
          <Difference before={f.before} after={f.after} label={`What changes in ${f.was}`} />
        </details>
      ))}
    </>
  );
}
