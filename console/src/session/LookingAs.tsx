import { Button } from '@mantine/core';
import { type ReactNode, useEffect } from 'react';
import { leaveLooking } from '../api/lookAs';
import classes from './session.module.css';

/** A frame around all that is another's, which nobody takes for their own page. One key leaves. */
export function LookingAs({ title, children }: { title: string; children: ReactNode }) {
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const isTyping = e.target instanceof HTMLElement && e.target.closest('input, textarea, [contenteditable]');
      if (e.key === 'q' && !isTyping && !e.ctrlKey && !e.metaKey && !e.altKey) leaveLooking();
    };
    window.addEventListener('keydown', key);
    return () => window.removeEventListener('keydown', key);
  }, []);
  return (
    <div className={classes.looking}>
      <div className={classes.lookingBar} role="status">
        <span>
          You look as <b>{title}</b>: this is what they see. Nothing here can be changed.
        </span>
        <Button size="compact-sm" variant="white" onClick={leaveLooking}>
          Leave (q)
        </Button>
      </div>
      {children}
    </div>
  );
}
