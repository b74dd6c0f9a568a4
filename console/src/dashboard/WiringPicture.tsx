import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useCallback, useEffect, useEffectEvent, useLayoutEffect, useRef, useState } from 'react';
import { api, unwrap } from '../api/client';
import { useDesign } from '../design/useDesign';
import { grouped, isWired, rewired, tilesOf, word } from '../design/written';
import { useSession } from '../session/SignedIn';
import classes from './dashboard.module.css';
import { usePage } from './usePage';

const ConceptDialog = lazy(() => import('../design/ConceptDialog'));

interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** The tile whose box is under the pointer. */
const tileUnder = (e: PointerEvent) =>
  document
    .elementsFromPoint(e.clientX, e.clientY)
    .map((x) => x.getAttribute('data-wire'))
    .find((name) => name !== null);

/** What a concept would have to link, for one tile to drive another. */
function conceptOf({ driver, follower }: { driver: string; follower: string }, design: ReturnType<typeof useDesign>) {
  const tiles = tilesOf(design?.said);
  const of = (name: string) => tiles.find((t) => t.name === name)?.says;
  const datasetOf = (name: string) => design?.datasets.find((d) => d.name === word(of(name)?.dataset));
  const by = of(driver)?.by;
  const field = (word(by) ?? (Array.isArray(by) ? word(by[0]) : undefined))?.split('.')[0];
  const [from, to] = [datasetOf(driver), datasetOf(follower)];
  return field !== undefined && from && to && from !== to ? { field, driver: from, follower: to } : undefined;
}

/** The lines of who drives whom, laid over the dashboard; the tile under the pointer or the focus has its own in full. */
export default function WiringPicture({
  dashboard,
  view,
  set,
  tab,
  onClose,
}: {
  dashboard: string;
  /** Which of the viewer's views is open. */
  view: string;
  /** The parameters that the page was fetched with. */
  set: string | null;
  tab: string;
  onClose: () => void;
}) {
  const version = usePage((s) => s.page.version);
  const ask = () =>
    unwrap(
      api.GET('/api/dashboards/{dashboard}/wiring', {
        params: { path: { dashboard }, query: { view, ...(set === null ? {} : { set }) } },
      }),
    );
  const wiring = useQuery({ queryKey: ['wiring', dashboard, set, view, version], queryFn: ask });
  const layer = useRef<HTMLDivElement>(null);
  const [boxes, setBoxes] = useState<Record<string, Box>>({});
  const [at, setAt] = useState<string>();
  const design = useDesign();
  // While it is designed, a line is drawn from a tile to another.
  const [from, setFrom] = useState<string>();
  const [hand, setHand] = useState<{ x: number; y: number }>();
  const [said, setSaid] = useState('');
  // A frame that is drawn around tiles.
  const [frame, setFrame] = useState<{ x: number; y: number; toX: number; toY: number }>();
  // A line that data do not carry, and whether it is asked what would link them.
  const [unlinked, setUnlinked] = useState<{ driver: string; follower: string }>();
  const [asked, setLinking] = useState<{ driver: string; follower: string }>();
  const { may } = useSession();

  const measure = useCallback(() => {
    const origin = layer.current?.getBoundingClientRect();
    if (!origin) return;
    const found = [...document.querySelectorAll<HTMLElement>('main [data-tile]')].map((e) => {
      const r = e.getBoundingClientRect();
      return [
        e.dataset.tile ?? '',
        { x: r.x - origin.x, y: r.y - origin.y, width: r.width, height: r.height },
      ] as const;
    });
    setBoxes(Object.fromEntries(found));
  }, []);
  // A dialog over it is left first.
  const leave = useEffectEvent(() => !asked && onClose());
  useLayoutEffect(() => {
    if (tab) measure();
  }, [measure, tab]);
  useEffect(() => {
    window.addEventListener('resize', measure);
    const key = (e: KeyboardEvent) => e.key === 'Escape' && leave();
    window.addEventListener('keydown', key);
    return () => {
      window.removeEventListener('resize', measure);
      window.removeEventListener('keydown', key);
    };
  }, [measure]);

  const wires = wiring.data ?? [];
  /** Draws the line between two tiles, or takes it away. */
  const link = useEffectEvent(async (driver: string, follower: string) => {
    // As the service has it by now: what is drawn may be of the step before.
    const fresh = await ask();
    const steps = design && rewired(tilesOf(design.said), fresh, driver, follower);
    const wasOn = isWired(fresh, driver, follower);
    if (!design || !steps) setSaid('The text does not say what would have to change here.');
    else if (await design.take(steps)) {
      const now = (await ask()).find((w) => w.driver === driver && w.follower === follower);
      setUnlinked(!wasOn && now?.reason === 'NoCounterpart' ? { driver, follower } : undefined);
      setSaid(
        wasOn
          ? `${driver} drives ${follower} no more.`
          : now === undefined
            ? `${driver} can’t be picked, and so drives nothing.`
            : now.reason
              ? (now.sentence ?? '')
              : `${driver} drives ${follower}.`,
      );
    }
  });
  useEffect(() => {
    if (from === undefined) return;
    const move = (e: PointerEvent) => {
      const origin = layer.current?.getBoundingClientRect();
      if (origin) setHand({ x: e.clientX - origin.x, y: e.clientY - origin.y });
      setAt(tileUnder(e) ?? from);
    };
    const up = (e: PointerEvent) => {
      // What is offered beside the lines lies over tiles, and is none.
      if ((e.target as Element).closest('[data-offers]')) return;
      const over = tileUnder(e);
      // Let go where it began, it waits for a click on the other.
      if (over === from) return;
      setFrom(undefined);
      setHand(undefined);
      if (over !== undefined) link(from, over).catch((e: Error) => setSaid(e.message));
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
    return () => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
    };
  }, [from]);
  /** Lays a group around the tiles in the frame, or takes it away. */
  const group = useEffectEvent(async (names: string[]) => {
    const found = design && grouped(design.said, names);
    if (!found) {
      if (names.length > 0) setSaid('What stands in the side panel belongs to no group.');
      return;
    }
    if (await design.take(found.steps))
      setSaid(
        found.isGone
          ? `The group ${found.group} is no more; its tiles stay.`
          : `${names.length === 1 ? 'One tile is' : `${names.length} tiles are`} the group ${found.group}: they drive one another, unless they say otherwise.`,
      );
  });
  const isFraming = frame !== undefined;
  useEffect(() => {
    if (!isFraming) return;
    const at = (e: PointerEvent) => {
      const origin = layer.current?.getBoundingClientRect();
      return { toX: e.clientX - (origin?.x ?? 0), toY: e.clientY - (origin?.y ?? 0) };
    };
    const move = (e: PointerEvent) => setFrame((f) => f && { ...f, ...at(e) });
    const up = (e: PointerEvent) => {
      const drawn = frame && { ...frame, ...at(e) };
      setFrame(undefined);
      if (!drawn) return;
      const [left, right] = [Math.min(drawn.x, drawn.toX), Math.max(drawn.x, drawn.toX)];
      const [top, bottom] = [Math.min(drawn.y, drawn.toY), Math.max(drawn.y, drawn.toY)];
      const within = Object.entries(boxes).flatMap(([tile, b]) => {
        const [x, y] = [b.x + b.width / 2, b.y + b.height / 2];
        return left <= x && x <= right && top <= y && y <= bottom ? [tile] : [];
      });
      group(within).catch((e: Error) => setSaid(e.message));
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
    return () => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
    };
  }, [isFraming, frame, boxes]);

  /** By key: the first tile is where the line begins, the second where it ends. */
  function byKey(tile: string) {
    if (!design) return;
    setSaid('');
    if (from === undefined || from === tile) setFrom(from === tile ? undefined : tile);
    else {
      setFrom(undefined);
      link(from, tile).catch((e: Error) => setSaid(e.message));
    }
  }

  const linking = asked && conceptOf(asked, design);
  // What would link two tiles is said in their datasets, by those who define.
  const mayDefine = may.includes('define') && may.includes('publish');
  const offered = (wiring.data ?? []).filter(
    (w) =>
      mayDefine &&
      w.reason === 'NoCounterpart' &&
      (from === undefined ? unlinked?.driver === w.driver && unlinked.follower === w.follower : from === w.driver) &&
      conceptOf(w, design),
  );
  // Those of the tile where a line begins, else of the one that is pointed at.
  const seen = from ?? at;
  const lines = (wiring.data ?? []).filter((w) => boxes[w.driver] && boxes[w.follower]);
  const driving = lines.filter((w) => !w.reason);
  // The wiring leads there, and yet the data have no field that links them.
  const broken = lines.filter((w) => w.reason === 'NoCounterpart');
  const middle = (b: Box) => ({ x: b.x + b.width / 2, y: b.y + b.height / 2 });
  const drivers = new Set((wiring.data ?? []).map((w) => w.driver));
  const away = (tile: string) =>
    (wiring.data ?? []).filter((w) => w.driver === tile && !w.reason && !boxes[w.follower]).length;

  return (
    // A frame is drawn by pointer; the form of a tile says its group by keys, too.
    <div
      ref={layer}
      className={classes.wiring}
      data-wiring
      onPointerDown={(e) => {
        if (!design || e.button !== 0 || e.target !== e.currentTarget) return;
        const origin = e.currentTarget.getBoundingClientRect();
        const [x, y] = [e.clientX - origin.x, e.clientY - origin.y];
        setSaid('');
        setFrame({ x, y, toX: x, toY: y });
      }}
    >
      {frame && (
        <div
          className={classes.frame}
          data-frame
          style={{
            left: Math.min(frame.x, frame.toX),
            top: Math.min(frame.y, frame.toY),
            width: Math.abs(frame.toX - frame.x),
            height: Math.abs(frame.toY - frame.y),
          }}
        />
      )}
      <svg aria-hidden width="100%" height="100%">
        <defs>
          <marker id="wire-end" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="8" markerHeight="8" orient="auto">
            <path d="M0 0 L8 4 L0 8 z" fill="var(--accent)" />
          </marker>
        </defs>
        {from !== undefined && hand && boxes[from] && (
          <path
            d={`M${middle(boxes[from]).x} ${middle(boxes[from]).y} L${hand.x} ${hand.y}`}
            stroke="var(--accent)"
            strokeWidth={2}
            strokeDasharray="3 3"
            markerEnd="url(#wire-end)"
          />
        )}
        {[...driving, ...broken].map((w) => {
          const [a, b] = [middle(boxes[w.driver] as Box), middle(boxes[w.follower] as Box)];
          const isOn = seen === undefined || seen === w.driver || seen === w.follower;
          // Bent to one side, so that the two ways of a pair are told apart.
          const [dx, dy] = [b.x - a.x, b.y - a.y];
          const bend = { x: (a.x + b.x) / 2 - dy * 0.12, y: (a.y + b.y) / 2 + dx * 0.12 };
          const end = { x: b.x - dx * 0.12, y: b.y - dy * 0.12 };
          return (
            <path
              key={`${w.driver} ${w.follower}`}
              d={`M${a.x} ${a.y} Q${bend.x} ${bend.y} ${end.x} ${end.y}`}
              fill="none"
              stroke={w.reason ? 'var(--warning)' : 'var(--accent)'}
              strokeDasharray={w.reason ? '5 4' : undefined}
              strokeWidth={seen !== undefined && isOn ? 2 : 1}
              strokeOpacity={isOn ? (seen === undefined ? 0.45 : 0.9) : 0.08}
              markerEnd={isOn && !w.reason ? 'url(#wire-end)' : undefined}
            />
          );
        })}
      </svg>
      {Object.entries(boxes).map(([tile, b]) => {
        const out = driving.filter((w) => w.driver === tile).length + away(tile);
        const into = driving.filter((w) => w.follower === tile).length;
        const refused = lines.filter((w) => w.follower === tile && w.reason);
        const words = [
          drivers.has(tile) ? `drives ${out}` : 'drives none',
          `follows ${into}`,
          ...(broken.some((w) => w.follower === tile) ? ['not linked to some'] : []),
          ...(away(tile) > 0 ? [`${away(tile)} on other tabs`] : []),
        ].join(', ');
        return (
          <button
            key={tile}
            type="button"
            className={classes.wired}
            style={{ left: b.x, top: b.y, width: b.width, height: b.height }}
            data-exempt={refused.length > 0 && into === 0}
            data-wire={tile}
            data-from={from === tile || undefined}
            aria-pressed={design ? from === tile : undefined}
            onPointerDown={(e) => {
              if (!design || e.button !== 0) return;
              // A click on the second one ends a line that was begun by a click.
              if (from !== undefined && from !== tile) return;
              setFrom(tile);
              setSaid('');
            }}
            onKeyDown={(e) => {
              if (e.key !== 'Enter' && e.key !== ' ') return;
              e.preventDefault();
              byKey(tile);
            }}
            onPointerEnter={() => setAt(tile)}
            onPointerLeave={() => setAt(undefined)}
            onFocus={() => setAt(tile)}
            onBlur={() => setAt(undefined)}
            onClick={() => setAt(tile)}
          >
            <span>
              <span className="hidden-visually">{tile}: </span>
              {from !== undefined && from !== tile && at === tile
                ? isWired(wires, from, tile)
                  ? `Take the line from ${from} away`
                  : `Draw a line from ${from}`
                : words}
              {at === tile && refused.length > 0 && (
                <small>
                  {[...new Set(refused.map((r) => r.sentence))].slice(0, 4).map((s) => (
                    <em key={s}>{s}</em>
                  ))}
                </small>
              )}
            </span>
          </button>
        );
      })}
      {design && (
        <p className={classes.wiringHint} role="status" data-offers>
          {said ||
            (from === undefined
              ? 'Draw a line from a tile to another, or from one click to the next; over a line it takes it away. From beside the tiles, draw a frame around some: they are a group.'
              : `From ${from} to …`)}
          {offered.map((w) => (
            <span key={`${w.driver} ${w.follower}`}>
              {' '}
              <button
                type="button"
                className={classes.linkButton}
                onClick={() => {
                  setFrom(undefined);
                  setLinking(w);
                }}
              >
                What would link {w.driver} to {w.follower} …
              </button>
            </span>
          ))}
        </p>
      )}
      {linking && (
        <Suspense>
          <ConceptDialog {...linking} onClose={() => setLinking(undefined)} />
        </Suspense>
      )}
      {wiring.error && <p role="alert">{wiring.error.message}</p>}
    </div>
  );
}
