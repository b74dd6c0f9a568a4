import arrange from '../arrange/arrange.module.css';
import { BarEnd } from '../arrange/BarEnd';
import { usePage } from '../dashboard/usePage';

/** What can be done while the page of a draft is laid out; each move is written into its text. */
export default function LayoutBar() {
  const saving = usePage((s) => s.saving);
  return (
    <section className={arrange.bar} aria-label="Lay out">
      <span>
        Drag tiles, their corners and the tabs. Each move is written into the text, for everybody.{' '}
        <span role="status" className="quiet" data-saving={saving.waiting > 0 ? 'saving' : 'saved'}>
          {saving.isHeld ? 'The service can’t be reached; it is tried again.' : saving.waiting > 0 ? 'Saving …' : ''}
        </span>
      </span>
      <div className={arrange.actions}>
        <BarEnd />
      </div>
    </section>
  );
}
