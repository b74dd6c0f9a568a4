import { useQuery } from '@tanstack/react-query';
import { api, type DashboardPage, type Schemas, unwrap } from '../api/client';
import { trialHeaders } from '../api/draft';
import { TileFrame } from '../tiles/TileFrame';
import classes from './design.module.css';
import { LoneTiles } from './LoneTiles';

type Change = Schemas['TileChangeInfo'];

/** How the service is asked for what is published, from the page of a draft. */
const asPublished = trialHeaders('published');

const inDraft = 'In the draft';

const words: Record<string, string> = { new: 'New', gone: 'Taken out', moved: 'Moved', changed: 'Changed' };

/** What a draft changes tile by tile, drawn as it is published and as it would be. */
export default function ChangedTiles({ dashboard, step }: { dashboard: string; step: number }) {
  const params = { path: { dashboard } };
  const changes = useQuery({
    queryKey: ['tile changes', dashboard, step],
    queryFn: () => unwrap(api.GET('/api/drafts/dashboards/{dashboard}/changes', { params })),
  });
  const now = useQuery({
    queryKey: ['page to compare', dashboard, step],
    queryFn: () => unwrap(api.GET('/api/dashboards/{dashboard}', { params })),
  });
  const before = useQuery({
    queryKey: ['published page', dashboard],
    gcTime: 0,
    queryFn: () => unwrap(api.GET('/api/dashboards/{dashboard}', { params, headers: asPublished })),
  });
  const error = changes.error ?? now.error ?? before.error;
  if (error) return <p role="alert">{error.message}</p>;
  if (!changes.data || !now.data || !before.data) return <p className="quiet">Drawing …</p>;
  const { tiles, page } = changes.data;
  const drawn = tiles.filter((t) => t.kind !== 'moved');
  return (
    <section aria-label="What changes in pictures" className={classes.changes}>
      {page.length > 0 && <p>Of the page: {page.map(pageWords).join(', ')}.</p>}
      {tiles.length === 0 && page.length === 0 && <p className="quiet">No tile is another.</p>}
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
            {t.kind !== 'new' && <One of="As published" page={before.data} tile={t.tile} headers={asPublished} />}
            {t.kind !== 'gone' && <One of={inDraft} page={now.data} tile={t.tile} headers={{}} />}
          </div>
        </article>
      ))}
    </section>
  );
}

function One({
  of,
  page,
  tile,
  headers,
}: {
  of: string;
  page: DashboardPage;
  tile: string;
  headers: Record<string, string>;
}) {
  return (
    <figure data-is-draft={of === inDraft || undefined}>
      <figcaption className="quiet">{of}</figcaption>
      <div className={classes.proposal}>
        <LoneTiles page={page} headers={headers} names={[tile]}>
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
