import { lazy, Suspense } from 'react';
import classes from './dashboard.module.css';
import { usePage } from './usePage';

// What reads CommonMark comes apart from the shell.
const Origin = lazy(() => import('./Origin'));

/** What the dashboard is for, and where its data come from. */
export function About() {
  const description = usePage((s) => s.page.description);
  const origin = usePage((s) => s.page.origin);
  return (
    <section className={classes.about} aria-label="About this dashboard">
      {description && <p>{description}</p>}
      {/* As it is written until then, so that the tiles below do not move away under a pointer. */}
      {origin && (
        <Suspense fallback={<p className="quiet">{origin}</p>}>
          <Origin text={origin} />
        </Suspense>
      )}
    </section>
  );
}
