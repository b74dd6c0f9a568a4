import { type ReactNode, Suspense, useMemo, useState } from 'react';
import { IconButton } from './IconButton';

interface Props {
  label: string;
  icon: ReactNode;
  className?: string;
  size?: number;
  /** Brings what the menu is built of. */
  load: () => Promise<unknown>;
  /** The menu, open, with a button of its own in place of this one. */
  children: ReactNode;
}

/** A button with a menu whose parts come apart: there are many such buttons on a page, and few are ever opened. */
export function MenuButton({ label, icon, className, size, load, children }: Props) {
  const [isWanted, setWanted] = useState(false);
  // The same as long as it looks the same: what stands beside it may change with each frame of a drag.
  const button = useMemo(
    () => (
      <IconButton
        size={size}
        className={className}
        aria-label={label}
        aria-haspopup="menu"
        aria-expanded={false}
        onPointerEnter={() => void load().catch(() => undefined)}
        onFocus={() => void load().catch(() => undefined)}
        onClick={() => setWanted(true)}
      >
        {icon}
      </IconButton>
    ),
    [size, className, label, icon, load],
  );
  return isWanted ? <Suspense fallback={button}>{children}</Suspense> : button;
}
