import { useQuery } from '@tanstack/react-query';
import { api, type DashboardPage, type Schemas, unwrap } from '../api/client';
import { trialHeaders } from '../api/draft';
import { TileFrame } from '../tiles/TileFrame';
import classes from './design.module.css';
import { LoneTiles } from './LoneTiles';

type Change = Schemas['TileChangeInfo'];

/** A state of a dashboard that is compared. */
export interface State {
  /** What it is called beside the other one. */
  title: string;
  /** How the service is asked for it. */
  headers: Record<string, string>;
  /** The version that it is; undefined for what is published, and for the draft. */
  version?: number;
}

/** What is published, asked for from the page of a draft. */
export const asPublished: State = { title: 'As published', headers: trialHeaders('published') };

/** The draft, at the step that it is at. */
export const inDraft: State = { title: 'In the draft', headers: {} };

/** What an earlier version had. */
export const ofVersion = (version: number): State => ({
  title: `Version ${version}`,
  headers: trialHeaders(`version-${version}`),
  version,
});

const words: Record<string, string> = { new: 'New', gone: 'Taken out', moved: 'Moved', changed: 'Changed' };

interface Props {
  dashboard: string;
  /** The step at which the draft is. */
  step: number;
  from?: State;
  to?: State;
}

/** What one state of a dashboard changes of another, tile by tile, both drawn. */
export default function ChangedTiles({ dashboard, step, from = asPublished, to = inDraft }: Props) {
  const params = { path: { dashboard } };
  const changes = useQuery({
    queryKey: ['tile changes', dashboard, step, from.title, to.title],
    queryFn: () =>
      unwrap(
        api.GET('/api/drafts/dashboards/{dashboard}/changes', {
          params: { ...params, query: { from: from.version, to: to.version } },
        }),
      ),
  });
  const page = (of: State) => ({
    queryKey: ['page to compare', dashboard, of.title, of === inDraft ? step : 0],
    gcTime: 0,
    queryFn: () => unwrap(api.GET('/api/dashboards/{dashboard}', { params, headers: of.headers })),
  });
  const now = useQuery(page(to));
  const before = useQuery(page(from));
  const error = changes.error ?? now.error ?? before.error;
  if (error) return <p role="alert">{error.message}</p>;
  if (!changes.data || !now.data || !before.data) return <p className="quiet">Drawing …</p>;
  const { tiles, page: ofPage } = changes.data;
  const drawn = tiles.filter((t) => t.kind !== 'moved');
  return (
    <section aria-label="What changes in pictures" className={classes.changes}>
      {ofPage.length > 0 && <p>Of the page: {ofPage.map(pageWords).join(', ')}.</p>}
      {tiles.length === 0 && ofPage.length === 0 && <p className="quiet">No tile is another.</p>}
      <ul className={classes.moved}>
        {tiles
          .filter((t) => t.kind === 'moved')
          .map((t) => (
            <li key={t.tile}>
              <b>{titleOf(now.data, t.tile)}</b>: moved{t.wasOn === null ? '' : `, from ${t.wasOn} to ${t.tab}`}
            </li>
          ))}
      </ul>
      {drawn.map((t) => (
        <article key={t.tile} aria-label={t.tile}>
          <h3>
            {titleOf(t.kind === 'gone' ? before.data : now.data, t.tile)} <span className="quiet">{said(t)}</span>
          </h3>
          <div className={classes.beside}>
            {t.kind !== 'new' && <One of={from} page={before.data} tile={t.tile} />}
            {t.kind !== 'gone' && <One of={to} isLater page={now.data} tile={t.tile} />}
          </div>
        </article>
      ))}
    </section>
  );
}

function One({ of, page, tile, isLater }: { of: State; page: DashboardPage; tile: string; isLater?: boolean }) {
  return (
    <figure data-is-draft={isLater}>
      <figcaption className="quiet">{of.title}</figcaption>
      <div className={classes.proposal}>
        <LoneTiles page={page} headers={of.headers} names={[tile]}>
          {(t) => <TileFrame key={t.name} tile={t} />}
        </LoneTiles>
      </div>
    </figure>
  );
}

const said = ({ kind, keys, tab, wasOn }: Change): string =>
  [
    words[kind],
    keys.length > 0 ? `: ${(keys as string[]).map((k) => k.replaceAll('_', ' ')).join(', ')}` : '',
    wasOn === null ? '' : `; moved from ${wasOn} to ${tab}`,
  ].join('');

const pageWords = (key: string): string => {
  const [tab, of] = key.split('/');
  return of === undefined ? (tab ?? '').replaceAll('_', ' ') : of === 'tab' ? `tab ${tab}` : `${of} of tab ${tab}`;
};

const titleOf = (page: DashboardPage, tile: string): string =>
  page.tabs.flatMap((t) => t.tiles).find((t) => t.name === tile)?.title ?? tile;
