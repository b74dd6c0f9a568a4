import { Button } from '@mantine/core';
import { ChartColumn, Check, LayoutList, Plus } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import { drafted } from '../api/draft';
import { useDispatch, usePage } from '../dashboard/usePage';
import { useSession } from '../session/SignedIn';
import { NameDialog } from './NameDialog';

const MakeTile = lazy(() => import('./MakeTile'));
const CatalogueSheet = lazy(() => import('./CatalogueSheet'));

/** What every arranging ends with: a tab more, tiles more, and being done. */
export function BarEnd() {
  const page = usePage((s) => s.page);
  const tab = usePage((s) => s.tab);
  const naming = usePage((s) => s.naming);
  const dispatch = useDispatch();
  const [isAdding, setAdding] = useState(false);
  const [isMaking, setMaking] = useState(false);
  const { may } = useSession();
  return (
    <>
      {page.may.includes('tabs') && (
        <Button
          size="xs"
          variant="default"
          leftSection={<Plus size={14} aria-hidden />}
          onClick={() => dispatch({ type: 'name tab', naming: { title: '' } })}
        >
          Add tab
        </Button>
      )}
      {page.may.includes('add') && tab?.may.includes('add') && (
        <Button
          size="xs"
          variant="default"
          leftSection={<LayoutList size={14} aria-hidden />}
          onClick={() => setAdding(true)}
        >
          Add tiles
        </Button>
      )}
      {may.includes('own') && drafted === undefined && page.may.includes('add') && tab?.may.includes('add') && (
        <Button
          size="xs"
          variant="default"
          leftSection={<ChartColumn size={14} aria-hidden />}
          onClick={() => setMaking(true)}
        >
          Make a tile
        </Button>
      )}
      <Button
        size="xs"
        leftSection={<Check size={14} aria-hidden />}
        onClick={() => dispatch({ type: 'arrange', isOn: false })}
      >
        Done
      </Button>
      {isAdding && tab && (
        <Suspense>
          <CatalogueSheet tab={tab} onClose={() => setAdding(false)} />
        </Suspense>
      )}
      {isMaking && tab && (
        <Suspense>
          <MakeTile tab={tab} onClose={() => setMaking(false)} />
        </Suspense>
      )}
      {naming && <NameDialog naming={naming} page={page} area={tab?.area ?? null} />}
    </>
  );
}
