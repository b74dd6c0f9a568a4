import { Menu } from '@mantine/core';
import { CircleUser } from 'lucide-react';
import type { Session } from '../api/client';
import { leaveLooking } from '../api/lookAs';
import { type Colours, chooseLook, colours, useLook } from '../look/look';
import { OpenedMenu } from '../look/OpenedMenu';
import classes from './header.module.css';

interface Props {
  session: Session;
  onPassword: () => void;
  onLookAs: () => void;
  onSignOut: () => void;
}

const inWords = { system: 'As the system has it', light: 'Light', dark: 'Dark', contrast: 'High contrast' };

/** Who is signed in, and what they can do about it. */
export default function PersonMenu({ session, onPassword, onLookAs, onSignOut }: Props) {
  const look = useLook();
  return (
    <OpenedMenu
      size={34}
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
      <Menu.Divider />
      <Menu.Label>Look</Menu.Label>
      <Menu.RadioGroup
        value={look.colours}
        onChange={(c) => chooseLook({ colours: c as Colours, isLarge: look.isLarge })}
      >
        {colours.map((c) => (
          <Menu.RadioItem key={c} value={c}>
            {inWords[c]}
          </Menu.RadioItem>
        ))}
      </Menu.RadioGroup>
      <Menu.CheckboxItem checked={look.isLarge} onChange={(isLarge) => chooseLook({ colours: look.colours, isLarge })}>
        Large type
      </Menu.CheckboxItem>
      <Menu.Divider />
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
