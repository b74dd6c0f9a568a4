import { useMemo, useState } from 'react';
import { usePage } from '../dashboard/usePage';
import { inOrderOf } from '../model/order';
import { pictureOf } from '../pictures';
import { commonScale, endsOfFigures, withOutliers } from '../pictures/parts/scale';
import { Content } from './Content';
import { differenceOf } from './compare';
import { type TileProps, unknown } from './shown';
import classes from './tiles.module.css';

/** What is pinned and what is now, at equal scale: the state of A, both tables, and between what their figures lie. */
function useBoth({ state, tile }: TileProps) {
  const compared = usePage((s) => s.compared[tile.name]) ?? unknown;
  const [own, b] = [compared.result?.table, state.result?.table];
  const a = useMemo(() => (own && b ? inOrderOf(own, b) : own), [own, b]);
  const pinned = useMemo(
    () => ({ ...compared, result: compared.result && { ...compared.result, table: a ?? null } }),
    [compared, a],
  );
  const [ofA, ofB] = [compared.result, state.result];
  const scale = useMemo(
    () => (a && b ? withOutliers(commonScale(tile, pictureOf(tile).stacks, a, b), ofA, ofB) : undefined),
    [tile, a, b, ofA, ofB],
  );
  const ends = useMemo(() => (a && b ? endsOfFigures(a, b) : undefined), [a, b]);
  return { pinned, a, b, drawnAt: { scale, ends } };
}

/** A and B beside each other, drawn at equal scale, with their difference in words. */
export function Sides(props: TileProps) {
  const { tile } = props;
  const { pinned, a, b, drawnAt } = useBoth(props);
  const selection = usePage((s) => s.pinned?.[tile.name]);
  const [isSaid, setSaid] = useState(false);
  return (
    <>
      <div className={classes.sides} data-narrow={pictureOf(tile).isSmall}>
        <div className={classes.side} data-side="A">
          <span className={classes.sideName}>A, pinned</span>
          <Content tile={tile} state={pinned} selection={selection} {...drawnAt} onPick={() => setSaid(true)} />
        </div>
        <div className={classes.side} data-side="B">
          <span className={classes.sideName}>B, now</span>
          <Content {...props} {...drawnAt} />
        </div>
      </div>
      {isSaid && (
        <p className={classes.foot} role="status">
          A stays as it was pinned. Pick in B, or go on with A.
        </p>
      )}
      {a && b && (
        <footer className={classes.foot} data-difference>
          {differenceOf(a, b)}
        </footer>
      )}
    </>
  );
}
