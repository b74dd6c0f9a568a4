import { Button, Modal, Select } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { api, unwrap } from '../api/client';
import { Difference } from './Difference';
import classes from './design.module.css';
import { LinesOrPictures } from './LinesOrPictures';
import '../look/panels.css';
import '../pictures/parts/controls.css';
import { whenOf } from '../look/when';

const ChangedTiles = lazy(() => import('./VersionTiles'));

interface Props {
  path: string;
  /** The dashboard that the file is of; undefined for other definitions. */
  dashboard: string | undefined;
  /** The text of the draft now. */
  text: string;
  /** The step at which the draft is. */
  step: number;
  /** Takes a text into the draft. */
  onTake: (text: string) => void;
  onClose: () => void;
}

/** The draft, among versions. */
const draft = 'draft';

/** The versions in which this file changed: each is held against the draft or another, looked at, and can be taken into the draft. */
export default function HistoryPanel({ path, dashboard, text, step, onTake, onClose }: Props) {
  const [chosen, setChosen] = useState<number>();
  const [against, setAgainst] = useState(draft);
  const [way, setWay] = useState('text');
  const [isAll, setAll] = useState(false);
  const versions = useQuery({
    queryKey: ['versions'],
    queryFn: () => unwrap(api.GET('/api/versions')),
    staleTime: 0,
  });
  const fileOf = (number: number | undefined) => ({
    queryKey: ['version', number],
    enabled: number !== undefined,
    queryFn: () => unwrap(api.GET('/api/versions/{number}', { params: { path: { number: number ?? 0 } } })),
  });
  const version = useQuery(fileOf(chosen));
  const other = useQuery(fileOf(against === draft ? undefined : Number(against)));
  const shown = versions.data?.filter((v) => isAll || v.files.includes(path)) ?? [];
  const then = version.data?.files[path];
  const later = against === draft ? text : other.data?.files[path];
  const laterTitle = against === draft ? 'the draft' : `version ${against}`;
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
        chosen !== undefined &&
        (then === undefined ? (
          <p>Version {chosen} has no such file.</p>
        ) : (
          <>
            <div className={classes.bar}>
              <Select
                label={`Version ${chosen} compared with`}
                allowDeselect={false}
                data={[
                  { value: draft, label: 'The draft as it is now' },
                  ...(versions.data ?? [])
                    .filter((v) => v.number !== chosen && (v.files.includes(path) || isAll))
                    .map((v) => ({ value: `${v.number}`, label: `Version ${v.number}, ${whenOf(v.published)}` })),
                ]}
                value={against}
                onChange={(v) => setAgainst(v ?? draft)}
              />
              {dashboard !== undefined && (
                <a href={`/d/${encodeURIComponent(dashboard)}/version/${chosen}`} target="_blank" rel="noreferrer">
                  Look at version {chosen}
                </a>
              )}
            </div>
            {dashboard !== undefined && <LinesOrPictures value={way} onChange={setWay} />}
            <p className="quiet">
              From version {chosen} to {laterTitle}:
            </p>
            {later === undefined ? (
              other.data && <p>Version {against} has no such file.</p>
            ) : way === 'tiles' && dashboard !== undefined ? (
              <Suspense>
                <ChangedTiles
                  dashboard={dashboard}
                  step={step}
                  from={chosen}
                  to={against === draft ? undefined : Number(against)}
                />
              </Suspense>
            ) : (
              <Difference before={then} after={later} label={`From version ${chosen} to ${laterTitle}`} />
            )}
            <Button mt="sm" disabled={then === text} onClick={() => onTake(then)}>
              Take version {chosen} into the draft
            </Button>
          </>
        ))}
    </Modal>
  );
}
