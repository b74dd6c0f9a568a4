import { Button } from '@mantine/core';
import { lazy, Suspense, useState } from 'react';
import { heldInWords } from '../model/page/held';
import { wiringOf } from '../model/wiring';
import classes from './dashboard.module.css';
import { useDispatch, usePage } from './usePage';

const PublishedAnew = lazy(() => import('../arrange/PublishedAnew'));

/** What must be told of the whole page: checks, a comparison, broken definitions, and what did not work. */
export function Banners() {
  return (
    <>
      <Checked />
      <Compared />
      <Held />
      <Faults />
      <NotRead />
      <News />
    </>
  );
}

/** What a check against the database found. */
function Checked() {
  const dispatch = useDispatch();
  const { isOn, checked, differences } = usePage((s) => s.check);
  const page = usePage((s) => s.page);
  if (!isOn) return null;
  const titleOf = (name: string) => wiringOf(page).named.get(name)?.title ?? name;
  return (
    <div className={classes.versus} role="status" data-check>
      {differences.length === 0
        ? `Checked ${checked} answers of this page against the database: all are equal.`
        : `These tiles differ from what the database says: ${differences.map(titleOf).join(', ')}. Please tell the developer; Read anew shows the database’s answer.`}
      <Button size="compact-xs" variant="default" onClick={() => dispatch({ type: 'check', isOn: false })}>
        Stop checking
      </Button>
    </div>
  );
}

/** What both sides of a comparison are, and the ways out of it. */
function Compared() {
  const dispatch = useDispatch();
  const isPinned = usePage((s) => s.pinned !== undefined);
  if (!isPinned) return null;
  return (
    <div className={classes.versus} role="status">
      <span>
        <b>A</b> is what was picked when you pinned it, <b>B</b> what is picked now. Both are drawn at equal scale.
      </span>
      {(['A', 'B'] as const).map((side) => (
        <Button key={side} size="compact-xs" variant="default" onClick={() => dispatch({ type: 'go on', with: side })}>
          Go on with {side}
        </Button>
      ))}
    </div>
  );
}

/** How many changes wait to be stored; while arranging its bar says so. */
function Held() {
  const held = usePage((s) => (s.saving.isHeld && !s.isArranging ? s.saving.waiting : 0));
  if (held === 0) return null;
  return (
    <div role="status" className={classes.news} data-saving="held">
      {heldInWords(held)}
    </div>
  );
}

/** What is broken in the definitions as they are now. */
function Faults() {
  const faults = usePage((s) => s.faults);
  if (faults.length === 0) return null;
  return (
    <div role="status" className={classes.news}>
      <strong>The definitions are broken; the last good version is shown.</strong>
      {faults.slice(0, 3).map((f) => (
        <code key={f}>{f}</code>
      ))}
    </div>
  );
}

/** What of the page's state could not be read, or not be stored. */
function NotRead() {
  const dispatch = useDispatch();
  const opening = usePage((s) => s.openingProblem);
  const view = usePage((s) => s.viewProblem);
  const drawing = usePage((s) => s.drawProblem);
  const own = usePage((s) => s.ownProblem);
  return (
    <>
      {opening && (
        <div role="alert" className={classes.news}>
          <span>
            What this dashboard opens with could not be read, so nothing is picked: {opening}{' '}
            <Button size="compact-xs" variant="default" onClick={() => dispatch({ type: 'retry opening' })}>
              Try again
            </Button>
          </span>
        </div>
      )}
      {[view, drawing, own && `What you keep could not be read: ${own}`].map(
        (text) =>
          text && (
            <div key={text} role="alert" className={classes.news}>
              {text}
            </div>
          ),
      )}
    </>
  );
}

/** What is new in the dashboard, and what of the viewer's no longer fits it. */
function News() {
  const { view, version } = usePage((s) => s.page);
  const letGo = usePage((s) => s.letGo);
  // It stays while both are looked at, though the first tile that is taken brings the view up to date.
  const isOlder = view.since !== null && view.mayMake;
  const [wasTold, setTold] = useState(isOlder);
  if (isOlder && !wasTold) setTold(true);
  return (
    <>
      {wasTold && (
        <Suspense>
          <PublishedAnew key={`${view.view} ${version}`} />
        </Suspense>
      )}
      {letGo && (
        <div role="status" className={classes.news}>
          {letGo}
        </div>
      )}
      {view.dropped.length > 0 && (
        <div role="status" className={classes.news}>
          <span>Some of your arrangement no longer fits this dashboard: {view.dropped.join(' ')}</span>
        </div>
      )}
    </>
  );
}
