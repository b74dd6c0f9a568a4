import { Menu } from '@mantine/core';
import { CircleUser } from 'lucide-react';
import type { Session } from '../api/client';
import { leaveLooking } from '../api/lookAs';
import { OpenedMenu } from '../look/OpenedMenu';
import classes from './header.module.css';

interface Props {
  session: Session;
  onPassword: () => void;
  onLookAs: () => void;
  onSignOut: () => void;
}

/** Who is signed in, and what they can do about it. */
export default function PersonMenu({ session, onPassword, onLookAs, onSignOut }: Props) {
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
      {session.may.includes('look-as') && <Menu.Item onClick={onLookAs}>Look as …</Menu.Item>}
      {session.lookedAsBy === null ? (
        <>
          <Menu.Item onClick={onPassword}>Change password …</Menu.Item>
          <Menu.Item onClick={onSignOut}>Sign out</Menu.Item>
        </>
      ) : (
        <Menu.Item onClick={leaveLooking}>Leave {session.title} (q)</Menu.Item>
      )}
    </OpenedMenu>
  );
}
