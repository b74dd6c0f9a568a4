import { Button, Checkbox, Select } from '@mantine/core';
import { type CSSProperties, useLayoutEffect, useRef, useState } from 'react';
import { type Colours, writeLook } from '../look/look';
import { useSession } from '../session/SignedIn';
import { lackOf, useOthers } from '../session/useOthers';
import classes from './design.module.css';
import '../look/panels.css';
import '../pictures/parts/controls.css';

/** Screens that pages are read on, in CSS pixels. */
const screens = {
  phone: { title: 'Phone, 390 wide', width: 390, height: 844 },
  laptop: { title: 'Laptop, 1280 wide', width: 1280, height: 800 },
  large: { title: 'Large, 1920 wide', width: 1920, height: 1080 },
};

const looks: { value: Colours; label: string }[] = [
  { value: 'system', label: 'As the system has it' },
  { value: 'light', label: 'Light' },
  { value: 'dark', label: 'Dark' },
  { value: 'contrast', label: 'High contrast' },
];

/** The page of the draft as somebody else has it, on another screen, in another look. It works, and changes nothing. */
export default function SeenAs({ dashboard, onClose }: { dashboard: string; onClose: () => void }) {
  const mayLook = useSession().may.includes('look-as');
  const { others, choices } = useOthers(mayLook);
  const [as, setAs] = useState<string | null>(null);
  const [screen, setScreen] = useState<keyof typeof screens>('laptop');
  const [colours, setColours] = useState<Colours>('system');
  const [isLarge, setLarge] = useState(false);
  const place = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    if (!place.current) return;
    const looking = new ResizeObserver(([entry]) => {
      if (entry) setRoom({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    looking.observe(place.current);
    return () => looking.disconnect();
  }, []);
  const lack = lackOf(others.data?.find((o) => o.name === as));
  const { width, height } = screens[screen];
  // The line around it takes a pixel on each side.
  const scale = Math.min(1, room.width / (width + 2), room.height / (height + 2));
  const query = new URLSearchParams({ ...(as === null ? {} : { as }), look: writeLook({ colours, isLarge }) });
  return (
    <section className={classes.seen} aria-label="As others have it">
      <div className={classes.bar}>
        {mayLook && (
          <Select
            size="xs"
            className={classes.choice}
            aria-label="Whose rows and rights"
            placeholder="As you"
            searchable
            clearable
            data={choices}
            value={as}
            onChange={setAs}
          />
        )}
        <Select
          size="xs"
          className={classes.choice}
          aria-label="Screen"
          allowDeselect={false}
          data={Object.entries(screens).map(([value, s]) => ({ value, label: s.title }))}
          value={screen}
          onChange={(v) => v && setScreen(v as keyof typeof screens)}
        />
        <Select
          size="xs"
          className={classes.choice}
          aria-label="Look"
          allowDeselect={false}
          data={looks}
          value={colours}
          onChange={(v) => v && setColours(v as Colours)}
        />
        <Checkbox size="xs" label="Large" checked={isLarge} onChange={(e) => setLarge(e.currentTarget.checked)} />
        <Button size="compact-sm" variant="default" onClick={onClose}>
          Back to the design
        </Button>
      </div>
      <p className="quiet" role="status">
        {lack ?? 'The draft, with each of its steps. What is picked here stays here, and nothing can be changed.'}
      </p>
      <div ref={place} className={classes.screen}>
        {room.width > 0 && (
          <iframe
            key={query.toString()}
            title="The page as others have it"
            src={`/d/${encodeURIComponent(dashboard)}/seen?${query}`}
            style={{ width, height, transform: `scale(${scale})` } as CSSProperties}
          />
        )}
      </div>
    </section>
  );
}
