import { Button, Modal } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, unwrap } from '../api/client';
import { Difference } from './Difference';
import classes from './design.module.css';
import '../look/panels.css';
import { whenOf } from '../look/when';

interface Props {
  path: string;
  /** The text of the draft now. */
  text: string;
  /** Takes a text into the draft. */
  onTake: (text: string) => void;
  onClose: () => void;
}

/** The versions in which this file changed: each is held against the draft, and can be taken into it. */
export default function HistoryPanel({ path, text, onTake, onClose }: Props) {
  const [chosen, setChosen] = useState<number>();
  const [isAll, setAll] = useState(false);
  const versions = useQuery({
    queryKey: ['versions'],
    queryFn: () => unwrap(api.GET('/api/versions')),
    staleTime: 0,
  });
  const version = useQuery({
    queryKey: ['version', chosen],
    enabled: chosen !== undefined,
    queryFn: () => unwrap(api.GET('/api/versions/{number}', { params: { path: { number: chosen ?? 0 } } })),
  });
  const shown = versions.data?.filter((v) => isAll || v.files.includes(path)) ?? [];
  const then = version.data?.files[path];
  return (
    <Modal
      opened
      onClose={onClose}
      size="min(1000px, 94vw)"
      title={`Versions of ${path}`}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {versions.error && <p role="alert">{versions.error.message}</p>}
      <ol className={classes.versions} aria-label="Versions">
        {shown.map((v) => (
          <li key={v.number}>
            <button
              type="button"
              className={classes.version}
              aria-pressed={chosen === v.number}
              onClick={() => setChosen(v.number)}
            >
              <b>Version {v.number}</b> {whenOf(v.published)}, {v.by}
              <span>{v.why || (v.files.length > 3 ? `${v.files.length} files` : v.files.join(', '))}</span>
            </button>
          </li>
        ))}
      </ol>
      {versions.data && shown.length < versions.data.length && (
        <Button size="compact-xs" variant="subtle" onClick={() => setAll(true)}>
          Also those in which other files changed
        </Button>
      )}
      {version.data &&
        (then === undefined ? (
          <p>Version {version.data.version} has no such file.</p>
        ) : (
          <>
            <p className="quiet">From version {version.data.version} to the draft as it is now:</p>
            <Difference before={then} after={text} label={`From version ${version.data.version} to the draft`} />
            <Button mt="sm" disabled={then === text} onClick={() => onTake(then)}>
              Take version {version.data.version} into the draft
            </Button>
          </>
        ))}
    </Modal>
  );
}
