import { ActionIcon, Button } from '@mantine/core';
import { GitCompareArrows, LayoutGrid, RefreshCw, Waypoints } from 'lucide-react';
import { memo } from 'react';

interface Props {
  isPinned: boolean;
  isWired: boolean;
  onRefresh: () => void;
  onPin: () => void;
  onWire: () => void;
  onArrange: () => void;
}

/** What can be done with the whole dashboard. Its callbacks act on the present state, so a new one of them changes nothing. */
export const HeaderActions = memo(
  function HeaderActions({ isPinned, isWired, onRefresh, onPin, onWire, onArrange }: Props) {
    const action = (label: string, icon: React.ReactNode, onClick: () => void, isOn?: boolean) => (
      <ActionIcon
        size={30}
        variant={isOn ? 'filled' : 'default'}
        aria-label={label}
        title={label}
        aria-pressed={isOn}
        onClick={onClick}
      >
        {icon}
      </ActionIcon>
    );
    return (
      <>
        {action('Read the data of this tab anew', <RefreshCw size={14} aria-hidden />, onRefresh)}
        {action('Compare: pin this state as A', <GitCompareArrows size={14} aria-hidden />, onPin, isPinned)}
        {action('Show the wiring (w)', <Waypoints size={14} aria-hidden />, onWire, isWired)}
        <Button size="xs" variant="default" leftSection={<LayoutGrid size={14} aria-hidden />} onClick={onArrange}>
          Arrange
        </Button>
      </>
    );
  },
  (a, b) => a.isPinned === b.isPinned && a.isWired === b.isWired,
);
