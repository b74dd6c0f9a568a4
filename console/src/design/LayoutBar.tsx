import { Button } from '@mantine/core';
import { Check, LayoutList, Plus } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import arrange from '../arrange/arrange.module.css';
import { NameDialog } from '../arrange/NameDialog';
import { useDispatch, usePage } from '../dashboard/usePage';

const CatalogueSheet = lazy(() => import('../arrange/CatalogueSheet'));

/** What can be done while the page of a draft is laid out; each move is written into its text. */
export default function LayoutBar() {
  const dispatch = useDispatch();
  const saving = usePage((s) => s.saving);
  const page = usePage((s) => s.page);
  const tab = usePage((s) => s.tab);
  const naming = usePage((s) => s.naming);
  const [isAdding, setAdding] = useState(false);
  return (
    <section className={arrange.bar} aria-label="Lay out">
      <span>
        Drag tiles, their corners and the tabs. Each move is written into the text, for everybody.{' '}
        <span role="status" className="quiet" data-saving={saving.waiting > 0 ? 'saving' : 'saved'}>
          {saving.isHeld ? 'The service can’t be reached; it is tried again.' : saving.waiting > 0 ? 'Saving …' : ''}
        </span>
      </span>
      <div className={arrange.actions}>
        <Button
          size="xs"
          variant="default"
          leftSection={<Plus size={14} aria-hidden />}
          onClick={() => dispatch({ type: 'name tab', naming: { title: '' } })}
        >
          Add a tab
        </Button>
        <Button
          size="xs"
          variant="default"
          leftSection={<LayoutList size={14} aria-hidden />}
          onClick={() => setAdding(true)}
        >
          Add a shared tile
        </Button>
        <Button
          size="xs"
          leftSection={<Check size={14} aria-hidden />}
          onClick={() => dispatch({ type: 'arrange', isOn: false })}
        >
          Done
        </Button>
      </div>
      {isAdding && tab && (
        <Suspense>
          <CatalogueSheet tab={tab} onClose={() => setAdding(false)} />
        </Suspense>
      )}
      {naming && <NameDialog naming={naming} page={page} area={tab?.area ?? null} />}
    </section>
  );
}
