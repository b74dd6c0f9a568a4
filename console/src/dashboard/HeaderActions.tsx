import { Button } from '@mantine/core';
import {
  Download,
  GitCompareArrows,
  Info,
  LayoutGrid,
  MessageSquare,
  PencilRuler,
  RefreshCw,
  Users,
  Waypoints,
} from 'lucide-react';
import { lazy, type ReactNode, Suspense, useState } from 'react';
import { drafted, isDesigning } from '../api/draft';
import { IconButton } from '../look/IconButton';
import { useSession } from '../session/SignedIn';
import { useDispatch, usePage } from './usePage';

const AccessPanel = lazy(() => import('./AccessPanel'));

/** What can be done with the whole dashboard. */
export function HeaderActions() {
  const dispatch = useDispatch();
  const isPinned = usePage((s) => s.pinned !== undefined);
  const isWired = usePage((s) => s.isWired);
  const isAbout = usePage((s) => s.isAbout);
  const hasAbout = usePage((s) => s.page.description !== null || s.page.origin !== null);
  const mayExport = usePage((s) => s.page.mayExport);
  const mayArrange = usePage((s) => s.page.mayArrange);
  const mayDesign = usePage((s) => s.page.mayDesign);
  const name = usePage((s) => s.page.name);
  const { may } = useSession();
  const [isAsking, setAsking] = useState(false);
  const action = (label: string, icon: ReactNode, onClick: () => void, isOn?: boolean) => (
    <IconButton
      size={30}
      variant={isOn ? 'filled' : 'edged'}
      aria-label={label}
      title={label}
      aria-pressed={isOn}
      onClick={onClick}
    >
      {icon}
    </IconButton>
  );
  return (
    <>
      {hasAbout &&
        action(
          'About this dashboard',
          <Info size={14} aria-hidden />,
          () => dispatch({ type: 'about', isOn: !isAbout }),
          isAbout,
        )}
      {action('Read the data of this tab anew', <RefreshCw size={14} aria-hidden />, () =>
        dispatch({ type: 'read anew' }),
      )}
      {action(
        'Compare: pin this state as A',
        <GitCompareArrows size={14} aria-hidden />,
        () => dispatch({ type: 'pin' }),
        isPinned,
      )}
      {action('Show the wiring (w)', <Waypoints size={14} aria-hidden />, () => dispatch({ type: 'wire' }), isWired)}
      {mayExport &&
        action('Take along as a file', <Download size={14} aria-hidden />, () =>
          dispatch({ type: 'take along', what: {} }),
        )}
      {drafted === undefined &&
        action('Remarks', <MessageSquare size={14} aria-hidden />, () => dispatch({ type: 'remark', what: {} }))}
      {(may.includes('publish') || may.includes('look-as')) &&
        action('Who may see this', <Users size={14} aria-hidden />, () => setAsking(true))}
      {mayDesign && !isDesigning && (
        <Button
          component="a"
          // Loaded anew: all that its page asks for is of the draft.
          href={`/d/${encodeURIComponent(name)}/design`}
          size="xs"
          variant="default"
          leftSection={<PencilRuler size={14} aria-hidden />}
        >
          Design
        </Button>
      )}
      {(mayArrange || isDesigning) && (
        <Button
          size="xs"
          variant="default"
          leftSection={<LayoutGrid size={14} aria-hidden />}
          onClick={() => dispatch({ type: 'arrange', isOn: true })}
        >
          {drafted === undefined ? 'Arrange' : 'Lay out'}
        </Button>
      )}
      {isAsking && (
        <Suspense>
          <AccessPanel onClose={() => setAsking(false)} />
        </Suspense>
      )}
    </>
  );
}
