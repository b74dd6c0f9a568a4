import { ActionIcon, Menu } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { ChevronLeft, CircleUser } from 'lucide-react';
import { lazy, type ReactNode, Suspense, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, unwrap } from '../api/client';
import { useTold } from '../api/useTold';
import classes from './header.module.css';
import { useSession } from './SignedIn';

const PasswordDialog = lazy(() => import('./PasswordDialog'));

/** The slim line at the top: where one is, what can be done here, who is signed in. */
export function Header({ title, back, children }: { title: string; back?: boolean; children?: ReactNode }) {
  const session = useSession();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [isChanging, setChanging] = useState(false);

  const [problem, run] = useTold();

  async function signOut() {
    await unwrap(api.DELETE('/api/session'));
    sessionStorage.clear();
    navigate('/');
    queries.clear();
    window.location.reload();
  }

  return (
    <header className={classes.header}>
      {back && (
        <Link to="/" className={classes.back} aria-label="All dashboards">
          <ChevronLeft size={18} aria-hidden />
        </Link>
      )}
      <h1 className={classes.title}>{title}</h1>
      {problem && <span role="alert">Still signed in: {problem}</span>}
      <div className={classes.actions}>{children}</div>
      <Menu position="bottom-end" withinPortal>
        <Menu.Target>
          <ActionIcon variant="subtle" size="lg" aria-label={`Signed in as ${session.title}`}>
            <CircleUser size={20} aria-hidden />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Label className={classes.person}>
            <b>{session.title}</b>
            <span>
              {session.name} · {session.workspace}
            </span>
            <span>{session.roleTitles.length === 0 ? 'No roles' : session.roleTitles.join(', ')}</span>
          </Menu.Label>
          <Menu.Item onClick={() => setChanging(true)}>Change password …</Menu.Item>
          <Menu.Item onClick={() => run(signOut)}>Sign out</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      {isChanging && (
        <Suspense>
          <PasswordDialog onClose={() => setChanging(false)} />
        </Suspense>
      )}
    </header>
  );
}
