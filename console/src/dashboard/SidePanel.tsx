import { useLocalStorage } from '@mantine/hooks';
import { PanelLeftClose, PanelLeftOpen } from 'lucide-react';
import type { TileInfo } from '../api/client';
import { TileFrame } from '../tiles/TileFrame';
import classes from './dashboard.module.css';

/** The controls of a tab that stand beside its tiles. Folded away they keep what is set, and say how much that is. */
export function SidePanel({
  name,
  tiles,
  picked,
}: {
  /** Under which this browser remembers whether it is folded. */
  name: string;
  tiles: TileInfo[];
  /** On how many of the controls something is picked. */
  picked: number;
}) {
  const [isFolded, setFolded] = useLocalStorage({
    key: `weir-panel-${name}`,
    defaultValue: false,
    getInitialValueInEffect: false,
  });
  const label = isFolded ? 'Unfold the controls' : 'Fold the controls away';
  return (
    <aside className={classes.panel} data-folded={isFolded} aria-label="Controls">
      <button
        type="button"
        className={classes.fold}
        aria-expanded={!isFolded}
        title={label}
        onClick={() => setFolded(!isFolded)}
      >
        {isFolded ? <PanelLeftOpen size={16} aria-hidden /> : <PanelLeftClose size={16} aria-hidden />}
        <span>{isFolded ? `Controls${picked > 0 ? `, ${picked} set` : ''}` : 'Controls'}</span>
        <span className="hidden-visually">{label}</span>
      </button>
      {!isFolded &&
        tiles.map((t) => (
          <div key={t.name}>
            <TileFrame tile={t} />
          </div>
        ))}
    </aside>
  );
}
