import { useQuery } from '@tanstack/react-query';
import { lazy, type ReactNode, Suspense, useEffect, useEffectEvent, useRef, useState } from 'react';
import { api, unwrap } from '../../api/client';
import { useDesign } from '../../design/useDesign';
import type { Wire } from '../../design/written';
import { useSession } from '../../session/SignedIn';
import classes from '../dashboard.module.css';
import { usePage } from '../usePage';
import { middleOf, useBoxes } from './boxes';
import { useFrame } from './useFrame';
import { type Pair, useLine } from './useLine';
import { WiredTile } from './WiredTile';
import { Wires } from './Wires';
import { conceptOf, group, link } from './written';

const ConceptDialog = lazy(() => import('../../design/ConceptDialog'));

interface Props {
  dashboard: string;
  /** Which of the viewer's views is open. */
  view: string;
  /** The parameters that the page was fetched with. */
  set: string | null;
  tab: string;
  onClose: () => void;
}

const none: Wire[] = [];

/** The lines of who drives whom, laid over the dashboard; the tile under the pointer or the focus has its own in full. */
export default function WiringPicture(props: Props) {
  const layer = useRef<HTMLDivElement>(null);
  const boxes = useBoxes(layer, props.tab);
  const [at, setAt] = useState<string>();
  const { wiring, ask } = useWiring(props);
  const wires = wiring.data ?? none;
  const { design, said, setSaid, unlinked, onLine, onFramed } = useDesigned(ask);
  const line = useLine(layer, setAt, onLine);
  const frame = useFrame(layer, boxes, onFramed);
  // What would link two tiles, where that is asked.
  const [asked, setAsked] = useState<Pair>();
  const linking = asked && conceptOf(asked, design);
  // A dialog over it is left first.
  useLeaving(() => !asked && props.onClose());

  // Those of the tile where a line begins, else of the one that is pointed at.
  const seen = line.from ?? at;
  const isHere = (tile: string) => boxes[tile] !== undefined;
  const lines = wires.filter((w) => isHere(w.driver) && isHere(w.follower));
  const start = line.from === undefined ? undefined : boxes[line.from];
  return (
    // A frame is drawn by pointer; the form of a tile says its group by keys, too.
    <div
      ref={layer}
      className={classes.wiring}
      data-wiring
      onPointerDown={(e) => {
        if (!design || e.button !== 0 || e.target !== e.currentTarget) return;
        setSaid('');
        frame.begin(e);
      }}
    >
      {frame.place && <div className={classes.frame} data-frame style={frame.place} />}
      <Wires
        // The wiring leads there, and yet the data have no field that links them: those come last, and dashed.
        wires={[...lines.filter((w) => !w.reason), ...lines.filter((w) => w.reason === 'NoCounterpart')]}
        boxes={boxes}
        seen={seen}
        drawn={start && line.hand && { from: middleOf(start), to: line.hand }}
      />
      {Object.entries(boxes).map(([tile, box]) => (
        <WiredTile
          key={tile}
          tile={tile}
          box={box}
          wires={wires}
          isHere={isHere}
          isDesigned={design !== undefined}
          from={line.from}
          isAt={at === tile}
          onAt={setAt}
          onBegin={(begun) => line.begin(begun) && setSaid('')}
          onKey={(pressed) => {
            setSaid('');
            line.byKey(pressed);
          }}
        />
      ))}
      {design && (
        <Hint said={said} from={line.from}>
          <Offers
            wires={wires.filter((w) => conceptOf(w, design))}
            from={line.from}
            unlinked={unlinked}
            onAsk={(pair) => {
              line.leave();
              setAsked(pair);
            }}
          />
        </Hint>
      )}
      {linking && (
        <Suspense>
          <ConceptDialog {...linking} onClose={() => setAsked(undefined)} />
        </Suspense>
      )}
      {wiring.error && <p role="alert">{wiring.error.message}</p>}
    </div>
  );
}

/** Who drives whom, and what asks for it anew. */
function useWiring({ dashboard, view, set }: Props) {
  const version = usePage((s) => s.page.version);
  const query = { view, ...(set === null ? {} : { set }) };
  const ask = () => unwrap(api.GET('/api/dashboards/{dashboard}/wiring', { params: { path: { dashboard }, query } }));
  return { wiring: useQuery({ queryKey: ['wiring', dashboard, set, view, version], queryFn: ask }), ask };
}

/** What is drawn while the dashboard is designed, and what came of it. @returns With the line that data do not carry, if the last one is. */
function useDesigned(ask: () => Promise<Wire[]>) {
  const design = useDesign();
  const [said, setSaid] = useState('');
  const [unlinked, setUnlinked] = useState<Pair>();
  const failed = (e: Error) => setSaid(e.message);
  const onLine = (pair: Pair) =>
    void link(design, ask, pair).then((came) => {
      if (!came) return;
      setUnlinked(came.isUnlinked ? pair : undefined);
      setSaid(came.said);
    }, failed);
  const onFramed = (tiles: string[]) =>
    void group(design, tiles).then((came) => {
      if (came !== undefined) setSaid(came);
    }, failed);
  return { design, said, setSaid, unlinked, onLine, onFramed };
}

function useLeaving(onLeave: () => void) {
  const leave = useEffectEvent(onLeave);
  useEffect(() => {
    const key = (e: KeyboardEvent) => e.key === 'Escape' && leave();
    window.addEventListener('keydown', key);
    return () => window.removeEventListener('keydown', key);
  }, []);
}

const Hint = ({ said, from, children }: { said: string; from: string | undefined; children: ReactNode }) => (
  <p className={classes.wiringHint} role="status" data-offers>
    {said ||
      (from === undefined
        ? 'Draw a line from a tile to another, or from one click to the next; over a line it takes it away. From beside the tiles, draw a frame around some: they are a group.'
        : `From ${from} to …`)}
    {children}
  </p>
);

/** What would link tiles that data do not: those of the tile where a line begins, else of the line that was drawn last. */
function Offers({
  wires,
  from,
  unlinked,
  onAsk,
}: {
  wires: Wire[];
  from: string | undefined;
  unlinked: Pair | undefined;
  onAsk: (pair: Pair) => void;
}) {
  const { may } = useSession();
  // It is said in their datasets, by those who define.
  if (!may.includes('define') || !may.includes('publish')) return null;
  const isAsked = (w: Pair) =>
    from === undefined ? unlinked?.driver === w.driver && unlinked.follower === w.follower : from === w.driver;
  return wires
    .filter((w) => w.reason === 'NoCounterpart' && isAsked(w))
    .map((w) => (
      <span key={`${w.driver} ${w.follower}`}>
        {' '}
        <button type="button" className={classes.linkButton} onClick={() => onAsk(w)}>
          What would link {w.driver} to {w.follower} …
        </button>
      </span>
    ));
}
