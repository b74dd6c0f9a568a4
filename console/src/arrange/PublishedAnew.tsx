import { Button } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import { lazy, Suspense, useState } from 'react';
import classes from '../dashboard/dashboard.module.css';
import { usePage } from '../dashboard/usePage';
import { useDifferences } from './useDifferences';

const DifferencesDialog = lazy(() => import('./DifferencesDialog'));

/** Tells whoever has a view of their own that the dashboard was published anew, where that touches them, until they have seen it. */
export default function PublishedAnew() {
  const { name, version, view } = usePage((s) => s.page);
  const [seen, setSeen] = useLocalStorage({
    key: `weir-seen-${name}-${view.view}`,
    defaultValue: 0,
    getInitialValueInEffect: false,
  });
  const [isOpen, setOpen] = useState(false);
  const { data } = useDifferences(seen);
  const dialog = isOpen && (
    <Suspense>
      <DifferencesDialog
        onClose={() => {
          setOpen(false);
          setSeen(version);
        }}
      />
    </Suspense>
  );
  if (seen >= version || !data || view.since === null) return dialog;
  const both = data.tiles.filter((t) => t.isBoth);
  if (data.came.length + both.length === 0) return dialog;
  const parts = [
    data.came.length > 0 && `${data.came.join(', ')} came`,
    both.length > 0 &&
      `${both.map((t) => t.title).join(', ')} ${both.length === 1 ? 'was' : 'were'} changed, where you had changed ${both.length === 1 ? 'it' : 'them'}: yours stands`,
  ].filter(Boolean);
  return (
    <div role="status" className={classes.news}>
      <span>
        This dashboard was published anew since you changed your view. {parts.join('. ')}.{' '}
        <Button size="compact-xs" variant="default" onClick={() => setOpen(true)}>
          Look at both
        </Button>{' '}
        <Button size="compact-xs" variant="subtle" onClick={() => setSeen(version)}>
          Keep mine
        </Button>
      </span>
      {dialog}
    </div>
  );
}
