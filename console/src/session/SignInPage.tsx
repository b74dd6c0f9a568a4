import { Button, PasswordInput, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { api, Refused, type Session, unwrap } from '../api/client';
import classes from './session.module.css';

/** Name and password; a link that led here goes on to where it led. */
export default function SignInPage({ onSignedIn }: { onSignedIn: (session: Session) => void }) {
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);

  async function signIn(event: FormEvent) {
    event.preventDefault();
    setBusy(true);
    setProblem(undefined);
    try {
      onSignedIn(await unwrap(api.POST('/api/session', { body: { name, password } })));
    } catch (error) {
      setProblem(error instanceof Refused ? error.message : 'The service can’t be reached.');
      setBusy(false);
    }
  }

  return (
    <main className={classes.page}>
      <form className={classes.card} onSubmit={signIn}>
        <h1>Weir</h1>
        <p className="quiet">Sign in to see your dashboards.</p>
        <TextInput
          label="Name"
          name="name"
          autoComplete="username"
          autoFocus
          value={name}
          onChange={(e) => setName(e.currentTarget.value)}
          required
        />
        <PasswordInput
          label="Password"
          name="password"
          autoComplete="current-password"
          value={password}
          onChange={(e) => setPassword(e.currentTarget.value)}
          required
        />
        <div role="alert" className={classes.problem}>
          {problem}
        </div>
        <Button type="submit" disabled={busy} fullWidth>
          Sign in
        </Button>
      </form>
    </main>
  );
}
