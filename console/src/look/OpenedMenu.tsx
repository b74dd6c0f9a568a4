import { ActionIcon, Menu } from '@mantine/core';
import { type ReactNode, useRef } from 'react';

interface Props {
  label: string;
  icon: ReactNode;
  className?: string;
  size?: string | number;
  position: 'bottom-start' | 'bottom-end';
  /** What stands in the menu. */
  children: ReactNode;
}

/** A menu that was opened by its button before it was there; see MenuButton. */
export function OpenedMenu({ label, icon, className, size = 'sm', position, children }: Props) {
  const button = useRef<HTMLButtonElement>(null);
  return (
    <Menu position={position} withinPortal defaultOpened onClose={() => button.current?.focus()}>
      <Menu.Target>
        <ActionIcon ref={button} size={size} variant="subtle" className={className} aria-label={label}>
          {icon}
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>{children}</Menu.Dropdown>
    </Menu>
  );
}
