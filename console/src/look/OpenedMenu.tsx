import { Menu } from '@mantine/core';
import { type ReactNode, useRef } from 'react';
import { IconButton } from './IconButton';

interface Props {
  label: string;
  icon: ReactNode;
  className?: string;
  size?: number;
  position: 'bottom-start' | 'bottom-end';
  /** What stands in the menu. */
  children: ReactNode;
}

/** A menu that was opened by its button before it was there; see MenuButton. */
export function OpenedMenu({ label, icon, className, size, position, children }: Props) {
  const button = useRef<HTMLButtonElement>(null);
  return (
    <Menu position={position} withinPortal defaultOpened onClose={() => button.current?.focus()}>
      <Menu.Target>
        <IconButton ref={button} size={size} className={className} aria-label={label}>
          {icon}
        </IconButton>
      </Menu.Target>
      <Menu.Dropdown>{children}</Menu.Dropdown>
    </Menu>
  );
}
