import { Button } from '@mantine/core';
import { lazy, Suspense, useState } from 'react';
import { heldInWords } from '../model/page/held';
import { wiringOf } from '../model/wiring';
import classes from './dashboard.module.css';
import { useDispatch, usePage } from './usePage';

const PublishedAnew = lazy(() => import('../arrange/PublishedAnew'));

/** What must be told of the whole page: checks, a comparison, broken definitions, and what did not work. */
export function Banners() {
  const dispatch = useDispatch();
  const page = usePage((s) => s.page);
  const check = usePage((s) => s.check);
  const isPinned = usePage((s) => s.pinned !== undefined);
  const faults = usePage((s) => s.faults);
  const opening = usePage((s) => s.openingProblem);
  const view = usePage((s) => s.viewProblem);
  const drawing = usePage((s) => s.drawProblem);
  const own = usePage((s) => s.ownProblem);
  const letGo = usePage((s) => s.letGo);
  // While arranging it is said in its bar.
  const held = usePage((s) => (s.saving.isHeld && !s.isArranging ? s.saving.waiting : 0));
  // It stays while both are looked at, though the first tile that is taken brings the view up to date.
  const isOlder = page.view.since !== null && page.view.mayMake;
  const [wasTold, setTold] = useState(isOlder);
  if (isOlder && !wasTold) setTold(true);
  const titleOf = (name: string) => wiringOf(page).named.get(name)?.title ?? name;
  return (
    <>
      {check.isOn && (
        <div className={classes.versus} role="status" data-check>
          {check.differences.length === 0
            ? `Checked ${check.checked} answers of this page against the database: all are equal.`
            : `These tiles differ from what the database says: ${check.differences.map(titleOf).join(', ')}. Please tell the developer; Read anew shows the database’s answer.`}
          <Button size="compact-xs" variant="default" onClick={() => dispatch({ type: 'check', isOn: false })}>
            Stop checking
          </Button>
        </div>
      )}
      {isPinned && (
        <div className={classes.versus} role="status">
          <span>
            <b>A</b> is what was picked when you pinned it, <b>B</b> what is picked now. Both are drawn at equal scale.
          </span>
          {(['A', 'B'] as const).map((side) => (
            <Button
              key={side}
              size="compact-xs"
              variant="default"
              onClick={() => dispatch({ type: 'go on', with: side })}
            >
              Go on with {side}
            </Button>
          ))}
        </div>
      )}
      {held > 0 && (
        <div role="status" className={classes.news} data-saving="held">
          {heldInWords(held)}
        </div>
      )}
      {faults.length > 0 && (
        <div role="status" className={classes.news}>
          <strong>The definitions are broken; the last good version is shown.</strong>
          {faults.slice(0, 3).map((f) => (
            <code key={f}>{f}</code>
          ))}
        </div>
      )}
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
      {wasTold && (
        <Suspense>
          <PublishedAnew key={`${page.view.view} ${page.version}`} />
        </Suspense>
      )}
      {letGo && (
        <div role="status" className={classes.news}>
          {letGo}
        </div>
      )}
      {page.view.dropped.length > 0 && (
        <div role="status" className={classes.news}>
          <span>Some of your arrangement no longer fits this dashboard: {page.view.dropped.join(' ')}</span>
        </div>
      )}
    </>
  );
}
