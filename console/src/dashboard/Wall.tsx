import { useEffect, useMemo, useRef, useState } from 'react';
import { isWaiting } from '../model/page/figures';
import { hasPick } from '../model/selections';
import classes from './dashboard.module.css';
import { FilterBar } from './FilterBar';
import { useDispatch, usePage } from './usePage';
import type { OnWall } from './wall';

/** What stands above the tiles on a wall, where nobody points at anything: which dashboard and tab, what filters, and how old the data are. */
export default function Wall({ round, refresh }: OnWall) {
  const dispatch = useDispatch();
  const title = usePage((s) => s.page.title);
  const tab = usePage((s) => s.tab);
  const tabs = usePage((s) => s.page.tabs);
  const isPicked = usePage((s) => Object.values(s.selections).some(hasPick));
  const read = usePage((s) => newest(s.shown.map((t) => s.tiles[t.name]?.result?.readAt)));
  const open = useMemo(() => tabs.filter((t) => !t.hidden).map((t) => t.name), [tabs]);

  useEffect(() => {
    document.documentElement.dataset.wall = '';
    return () => {
      delete document.documentElement.dataset.wall;
    };
  }, []);
  useEffect(() => {
    const timer = setInterval(() => dispatch({ type: 'read anew' }), refresh * 1000);
    return () => clearInterval(timer);
  }, [dispatch, refresh]);
  // Nobody presses anything here.
  const waiting = usePage((s) => s.shown.find((t) => s.isReady && isWaiting(s, t))?.name);
  useEffect(() => {
    if (waiting !== undefined) dispatch({ type: 'retry', tile: waiting });
  }, [dispatch, waiting]);
  const here = tab?.name ?? '';
  useEffect(() => {
    if (round === null || open.length < 2) return;
    const next = open[(open.indexOf(here) + 1) % open.length] as string;
    const timer = setTimeout(() => dispatch({ type: 'open tab', tab: next, replace: true }), round * 1000);
    return () => clearTimeout(timer);
  }, [dispatch, round, open, here]);

  return (
    <>
      <header className={classes.wall}>
        <h1>{title}</h1>
        {open.length > 1 && tab && <span className={classes.wallTab}>{tab.title}</span>}
        <Age read={read} refresh={refresh} />
      </header>
      {isPicked && <FilterBar />}
    </>
  );
}

/** When the data were read; and that they are old, where none have come for three refreshes. */
function Age({ read, refresh }: { read: string | undefined; refresh: number }) {
  // By this machine's clock alone: that of the service may be another.
  const came = useRef({ read, at: Date.now() });
  // Another tab shows what was read before: that is nothing new.
  const { read: before } = came.current;
  if (read !== undefined && (before === undefined || read > before)) came.current = { read, at: Date.now() };
  const [now, setNow] = useState(Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(timer);
  }, []);
  const age = Math.max(0, now - came.current.at);
  const isOld = age > 3 * refresh * 1000;
  const time = new Date(came.current.at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
  return (
    <span className={classes.wallAge} role="status" data-old={isOld}>
      {isOld ? `Old data: nothing new since ${time}, ${inWords(age)} ago` : came.current.read && `Data of ${time}`}
    </span>
  );
}

const inWords = (age: number) => {
  const minutes = Math.floor(age / 60_000);
  return minutes < 1 ? 'less than a minute' : minutes === 1 ? '1 minute' : `${minutes} minutes`;
};

/** The newest of some times, as they are written. */
const newest = (times: (string | undefined)[]): string | undefined =>
  times.reduce((last, t) => (t !== undefined && (last === undefined || t > last) ? t : last), undefined);
