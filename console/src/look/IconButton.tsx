import type { ComponentProps, CSSProperties } from 'react';
import classes from './iconButton.module.css';

interface Props extends Omit<ComponentProps<'button'>, 'type'> {
  /** What is said of it to those who do not see the icon. */
  'aria-label': string;
  /** Its side in pixels, in type of usual size. */
  size?: number;
  /** With an edge, filled for what is on, or bare among others. */
  variant?: 'bare' | 'edged' | 'filled';
}

/**
 * A button that is an icon. A page has dozens of them; the kit's own is five components deep, which made a third of what is drawn before
 * the first figure.
 */
export function IconButton({ size = 22, variant = 'bare', className, style, ...given }: Props) {
  return (
    <button
      type="button"
      data-variant={variant}
      className={className === undefined ? classes.icon : `${classes.icon} ${className}`}
      style={{ '--side': `${size}px`, ...style } as CSSProperties}
      {...given}
    />
  );
}
