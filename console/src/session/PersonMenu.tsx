import { Menu } from '@mantine/core';
import { CircleUser } from 'lucide-react';
import type { Session } from '../api/client';
import { OpenedMenu } from '../look/OpenedMenu';
import classes from './header.module.css';

interface Props {
  session: Session;
  onPassword: () => void;
  onSignOut: () => void;
}

/** Who is signed in, and what they can do about it. */
export default function PersonMenu({ session, onPassword, onSignOut }: Props) {
  return (
    <OpenedMenu
      size="lg"
      label={`Signed in as ${session.title}`}
      icon={<CircleUser size={20} aria-hidden />}
      position="bottom-end"
    >
      <Menu.Label className={classes.person}>
        <b>{session.title}</b>
        <span>
          {session.name} · {session.workspace}
        </span>
        <span>{session.roleTitles.length === 0 ? 'No roles' : session.roleTitles.join(', ')}</span>
      </Menu.Label>
      <Menu.Item onClick={onPassword}>Change password …</Menu.Item>
      <Menu.Item onClick={onSignOut}>Sign out</Menu.Item>
    </OpenedMenu>
  );
}
