import { useMemo } from 'react';
import { commonMarkToHtml } from '../pictures/text/commonMark';
import classes from './dashboard.module.css';
import { usePage } from './usePage';

/** What the dashboard is for, and where its data come from. */
export default function About() {
  const description = usePage((s) => s.page.description);
  const origin = usePage((s) => s.page.origin);
  const html = useMemo(() => (origin ? commonMarkToHtml(origin) : ''), [origin]);
  return (
    <section className={classes.about} aria-label="About this dashboard">
      {description && <p>{description}</p>}
      {/* biome-ignore lint/security/noDangerouslySetInnerHtml: made of CommonMark without HTML, and sanitised */}
      {html && <div className="quiet" dangerouslySetInnerHTML={{ __html: html }} />}
    </section>
  );
}
