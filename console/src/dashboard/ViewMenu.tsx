import { Button, Menu } from '@mantine/core';
import { ChevronDown } from 'lucide-react';
import { useRef } from 'react';
import { useSession } from '../session/SignedIn';
import classes from './dashboard.module.css';
import { usePage } from './usePage';
import type { ViewNaming } from './useViews';

interface Props {
  title: string;
  onOpen: (view: string) => void;
  onNaming: (naming: ViewNaming) => void;
  onFirst: () => void;
  onRemove: () => void;
  onShare: () => void;
  onCompare: () => void;
  onPromote: () => void;
}

/** The viewer's views of the dashboard, opened: to go to another, and to look after them. */
export default function ViewMenu({ title, onOpen, onNaming, onFirst, onRemove, onShare, onCompare, onPromote }: Props) {
  const { may } = useSession();
  const view = usePage((s) => s.page.view);
  const opensFirst = view.named.find((v) => v.opensFirst)?.view ?? '';
  const button = useRef<HTMLButtonElement>(null);
  return (
    <Menu position="bottom-start" withinPortal defaultOpened onClose={() => button.current?.focus()}>
      <Menu.Target>
        <Button
          ref={button}
          size="compact-sm"
          variant="subtle"
          className={classes.viewSwitch}
          classNames={{ label: classes.viewName }}
          rightSection={<ChevronDown size={14} aria-hidden />}
          aria-label={`View: ${title}`}
        >
          {title}
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>Your views</Menu.Label>
        {[{ view: '', title: 'My view' }, ...view.named].map((v) => (
          <Menu.Item
            key={v.view}
            onClick={() => onOpen(v.view)}
            aria-current={v.view === view.view}
            fw={v.view === view.view ? 600 : undefined}
          >
            {v.title}
            {v.view === opensFirst && <span className="quiet"> opens first</span>}
          </Menu.Item>
        ))}
        {view.sharedWithMe.length > 0 && <Menu.Label>Shared with you</Menu.Label>}
        {view.sharedWithMe.map((v) => (
          <Menu.Item
            key={v.view}
            onClick={() => onOpen(v.view)}
            aria-current={v.view === view.view}
            fw={v.view === view.view ? 600 : undefined}
          >
            {v.title} <span className="quiet">of {v.owner}</span>
          </Menu.Item>
        ))}
        {view.mayMake && (
          <>
            <Menu.Divider />
            {view.owner === null && view.isPersonal && (
              <Menu.Item onClick={onCompare}>Beside the opening view …</Menu.Item>
            )}
            {view.owner === null && view.isPersonal && may.includes('publish') && (
              <Menu.Item onClick={onPromote}>Make it the opening view …</Menu.Item>
            )}
            {view.mayShare && view.owner === null && <Menu.Item onClick={onShare}>Who can see it …</Menu.Item>}
            <Menu.Item onClick={() => onNaming({ isNew: true, fromOpening: false })}>
              New view from this one …
            </Menu.Item>
            <Menu.Item onClick={() => onNaming({ isNew: true, fromOpening: true })}>New view as published …</Menu.Item>
            {view.owner === null && view.view !== opensFirst && (
              <Menu.Item onClick={onFirst}>Open {title} first</Menu.Item>
            )}
            {view.owner === null && view.view !== '' && (
              <>
                <Menu.Item onClick={() => onNaming({ isNew: false })}>Rename …</Menu.Item>
                <Menu.Item onClick={onRemove}>Remove {title}</Menu.Item>
              </>
            )}
          </>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}
