import { Button, Modal, Select } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { api, type Schemas, unwrap } from '../api/client';
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

/** The text of a file in a version; undefined while it is not known, or has no such file. */
function useFile(version: number | undefined, path: string) {
  const { data } = useQuery({
    queryKey: ['version', version],
    enabled: version !== undefined,
    queryFn: () => unwrap(api.GET('/api/versions/{number}', { params: { path: { number: version ?? 0 } } })),
  });
  return { isKnown: data !== undefined, text: data?.files[path] };
}

/** What a version is held against, and in which way both are shown; the same for the next one that is chosen. */
function useComparing() {
  const [against, setAgainst] = useState(draft);
  const [way, setWay] = useState('text');
  return { against, setAgainst, way, setWay };
}

/** The versions in which this file changed: each is held against the draft or another, looked at, and can be taken into the draft. */
export default function HistoryPanel(props: Props) {
  const { path, text, onTake, onClose } = props;
  const [chosen, setChosen] = useState<number>();
  const [isAll, setAll] = useState(false);
  const versions = useQuery({
    queryKey: ['versions'],
    queryFn: () => unwrap(api.GET('/api/versions')),
    staleTime: 0,
  });
  const shown = versions.data?.filter((v) => isAll || v.files.includes(path)) ?? [];
  const then = useFile(chosen, path);
  const by = useComparing();
  return (
    <Modal
      opened
      onClose={onClose}
      size="min(1000px, 94vw)"
      title={`Versions of ${path}`}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {versions.error && <p role="alert">{versions.error.message}</p>}
      <Versions of={shown} chosen={chosen} onChoose={setChosen} />
      {versions.data && shown.length < versions.data.length && (
        <Button size="compact-xs" variant="subtle" onClick={() => setAll(true)}>
          Also those in which other files changed
        </Button>
      )}
      {chosen !== undefined &&
        then.isKnown &&
        (then.text === undefined ? (
          <p>Version {chosen} has no such file.</p>
        ) : (
          <>
            <Compared
              {...props}
              chosen={chosen}
              then={then.text}
              others={shown.filter((v) => v.number !== chosen)}
              by={by}
            />
            <Button mt="sm" disabled={then.text === text} onClick={() => onTake(then.text ?? '')}>
              Take version {chosen} into the draft
            </Button>
          </>
        ))}
    </Modal>
  );
}

type Version = Schemas['VersionLine'];

interface VersionsProps {
  of: Version[];
  chosen: number | undefined;
  onChoose: (version: number) => void;
}

function Versions({ of, chosen, onChoose }: VersionsProps) {
  return (
    <ol className={classes.versions} aria-label="Versions">
      {of.map((v) => (
        <li key={v.number}>
          <button
            type="button"
            className={classes.version}
            aria-pressed={chosen === v.number}
            onClick={() => onChoose(v.number)}
          >
            <b>Version {v.number}</b> {whenOf(v.published)}, {v.by}
            <span>{v.why || (v.files.length > 3 ? `${v.files.length} files` : v.files.join(', '))}</span>
          </button>
        </li>
      ))}
    </ol>
  );
}

interface ComparedProps extends Props {
  chosen: number;
  /** The text of the chosen version. */
  then: string;
  others: Version[];
  by: ReturnType<typeof useComparing>;
}

/** The chosen version, beside the draft or another version: as lines, or as pictures. */
function Compared({ path, dashboard, text, step, chosen, then, others, by }: ComparedProps) {
  const { against, setAgainst, way, setWay } = by;
  const version = against === draft ? undefined : Number(against);
  const other = useFile(version, path);
  const later = version === undefined ? text : other.text;
  const title = `version ${chosen} to ${version === undefined ? 'the draft' : `version ${version}`}`;
  return (
    <>
      <div className={classes.bar}>
        <Select
          label={`Version ${chosen} compared with`}
          allowDeselect={false}
          data={[
            { value: draft, label: 'The draft as it is now' },
            ...others.map((v) => ({ value: `${v.number}`, label: `Version ${v.number}, ${whenOf(v.published)}` })),
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
      <p className="quiet">From {title}:</p>
      {later === undefined ? (
        other.isKnown && <p>Version {version} has no such file.</p>
      ) : way === 'tiles' && dashboard !== undefined ? (
        <Suspense>
          <ChangedTiles dashboard={dashboard} step={step} from={chosen} to={version} />
        </Suspense>
      ) : (
        <Difference before={then} after={later} label={`From ${title}`} />
      )}
    </>
  );
}
