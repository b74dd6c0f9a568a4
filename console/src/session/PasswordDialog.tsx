import { Button, Checkbox, Modal, PasswordInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { api, unwrap } from '../api/client';
import classes from './header.module.css';
import '../look/panels.css';

/** Changes one's own password. Other sessions end; tokens too, unless they are to go on. */
export default function PasswordDialog({ onClose }: { onClose: () => void }) {
  const [current, setCurrent] = useState('');
  const [next, setNext] = useState('');
  const [keepTokens, setKeepTokens] = useState(false);
  const [problem, setProblem] = useState<string>();
  const [isDone, setDone] = useState(false);
  async function change(event: FormEvent) {
    event.preventDefault();
    setProblem(undefined);
    try {
      await unwrap(api.POST('/api/session/password', { body: { current, new: next, keepTokens } }));
      setDone(true);
    } catch (e) {
      setProblem(e instanceof Error ? e.message : String(e));
    }
  }
  return (
    <Modal opened onClose={onClose} title="Change your password" closeButtonProps={{ 'aria-label': 'Close' }}>
      {isDone ? (
        <p role="status">Your password is changed. You stay signed in here; everywhere else you sign in anew.</p>
      ) : (
        <form className={classes.password} onSubmit={change}>
          <PasswordInput
            label="The present one"
            autoComplete="current-password"
            value={current}
            onChange={(e) => setCurrent(e.currentTarget.value)}
          />
          <PasswordInput
            label="The new one"
            description="10 to 256 characters"
            autoComplete="new-password"
            value={next}
            onChange={(e) => setNext(e.currentTarget.value)}
          />
          <Checkbox
            label="Let the tokens of my programs go on"
            checked={keepTokens}
            onChange={(e) => setKeepTokens(e.currentTarget.checked)}
          />
          {problem && <p role="alert">{problem}</p>}
          <Button type="submit" disabled={current === '' || next.length < 10}>
            Change it
          </Button>
        </form>
      )}
    </Modal>
  );
}
