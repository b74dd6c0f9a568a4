import ChangedTiles, { inDraft, ofVersion } from './ChangedTiles';

interface Props {
  dashboard: string;
  step: number;
  from: number;
  /** Another version; the draft if left out. */
  to: number | undefined;
}

/** What became of the tiles of a version, drawn as they were over the data of now. */
export default function VersionTiles({ dashboard, step, from, to }: Props) {
  return (
    <ChangedTiles
      dashboard={dashboard}
      step={step}
      from={ofVersion(from)}
      to={to === undefined ? inDraft : ofVersion(to)}
    />
  );
}
