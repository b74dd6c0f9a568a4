import { Button, Modal, Select } from '@mantine/core';
import { useState } from 'react';
import type { Schemas, ViewEdit } from '../api/client';
import { useDispatch, usePage } from '../dashboard/usePage';
import classes from './arrange.module.css';
import { useDifferences } from './useDifferences';
import '../look/panels.css';

/** The viewer's arrangement beside the opening view: to take that tile by tile, as a whole, or not. */
export default function DifferencesDialog({ onClose }: { onClose: () => void }) {
  const dispatch = useDispatch();
  const open = usePage((s) => s.tab?.name ?? '');
  const mayArrange = usePage((s) => s.page.mayArrange);
  const hasOwn = usePage((s) => s.page.tabs.some((t) => t.own || t.tiles.some((x) => x.own)));
  const { data, error } = useDifferences();
  const [chosen, setChosen] = useState<string>();
  const change = (edit: ViewEdit) => dispatch({ type: 'edit', edit });
  const tabs = data ? [...new Map([...data.opening, ...data.mine].map((t) => [t.name, t.title])).entries()] : [];
  const tab = chosen ?? (tabs.some(([name]) => name === open) ? open : (tabs[0]?.[0] ?? ''));
  const differing = new Set(data?.tiles.map((t) => t.tile));
  return (
    <Modal
      opened
      onClose={onClose}
      title="Your view beside the opening view"
      size={860}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {error && <p role="alert">{error.message}</p>}
      {data && (
        <div className={classes.form}>
          {data.came.length > 0 && <p>Came since you last changed your view: {data.came.join(', ')}.</p>}
          {data.gone.length > 0 && <p>No longer fits: {data.gone.join(' ')}</p>}
          <Select
            label="Tab"
            data={tabs.map(([value, label]) => ({ value, label }))}
            value={tab}
            onChange={(v) => setChosen(v ?? undefined)}
          />
          <div className={classes.both}>
            <Sketch title="Yours" tab={data.mine.find((t) => t.name === tab)} differing={differing} />
            <Sketch title="The opening view" tab={data.opening.find((t) => t.name === tab)} differing={differing} />
          </div>
          {data.tiles.length === 0 ? (
            <p>All that was published stands where it was published.</p>
          ) : (
            <ul className={classes.differences} aria-label="Tiles that stand otherwise">
              {data.tiles.map((t) => (
                <li key={t.tile}>
                  <span>
                    <b>{t.title}</b>
                    {t.isBoth && <span className="quiet"> changed by both</span>}
                    <br />
                    <span className="quiet">
                      Yours: {t.mine}. Published: {t.published}.
                    </span>
                  </span>
                  {mayArrange && (
                    <Button
                      size="compact-xs"
                      variant="default"
                      aria-label={`Take as published: ${t.title}`}
                      onClick={() => change({ edit: 'as-published', tile: t.tile })}
                    >
                      Take as published
                    </Button>
                  )}
                </li>
              ))}
            </ul>
          )}
          {mayArrange && (
            <div className={classes.actions}>
              {hasOwn && (
                <Button variant="default" onClick={() => change({ edit: 'reset', keepOwn: true })}>
                  Take it all, keep what I added
                </Button>
              )}
              <Button variant="default" onClick={() => change({ edit: 'reset', keepOwn: false })}>
                Take it all
              </Button>
              <Button onClick={onClose}>Keep mine</Button>
            </div>
          )}
        </div>
      )}
    </Modal>
  );
}

const row = 22;
const wide = 396;

/** A tab as boxes, sections below one another. */
function Sketch({ title, tab, differing }: { title: string; tab?: Schemas['SketchedTab']; differing: Set<string> }) {
  const sections = [...new Set(tab?.tiles.map((t) => t.section))].sort((a, b) =>
    a === null ? -1 : b === null ? 1 : 0,
  );
  let below = 0;
  const boxes = sections.flatMap((section) => {
    const tiles = tab?.tiles.filter((t) => t.section === section) ?? [];
    const from = below;
    below += Math.max(0, ...tiles.map((t) => t.place.row + t.place.height));
    return tiles.map((t) => ({ ...t, y: (from + t.place.row) * row }));
  });
  return (
    <figure className={classes.sketch}>
      <figcaption>
        {title}
        {!tab && <span className="quiet"> has no such tab</span>}
        {tab?.hidden && <span className="quiet"> has this tab hidden</span>}
      </figcaption>
      <svg
        viewBox={`0 0 ${wide} ${Math.max(row * 4, below * row)}`}
        role="img"
        aria-label={`${title}: ${boxes.length} tiles`}
      >
        {boxes.map((t) => {
          const [x, w] = [(t.place.column * wide) / 12 + 1, (t.place.width * wide) / 12 - 3];
          const fits = Math.max(1, Math.floor((w - 10) / 6));
          return (
            <g key={t.name}>
              <rect
                x={x}
                y={t.y + 1}
                width={w}
                height={t.place.height * row - 3}
                rx={3}
                fill={differing.has(t.name) ? 'var(--tint)' : 'var(--surface)'}
                stroke={differing.has(t.name) ? 'var(--accent)' : 'var(--hairline)'}
              />
              <text x={x + 5} y={t.y + 15} fontSize={11} fill="var(--ink)">
                {(t.title || 'Text').length > fits ? `${t.title.slice(0, Math.max(1, fits - 1))}…` : t.title || 'Text'}
              </text>
            </g>
          );
        })}
      </svg>
    </figure>
  );
}
