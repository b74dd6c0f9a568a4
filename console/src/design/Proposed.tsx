import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { api, type DashboardPage, unwrap } from '../api/client';
import { serviceOf } from '../api/dashboard';
import { trialHeaders } from '../api/draft';
import { PageContext, usePage } from '../dashboard/usePage';
import { readAddress } from '../model/page/address';
import { createPage } from '../model/page/pageStore';
import { pictureOf } from '../pictures';
import { TileFrame } from '../tiles/TileFrame';
import classes from './design.module.css';
import { DesignContext } from './useDesign';

interface Props {
  dashboard: string;
  /** What the service has them under. */
  trial: string;
  onTake: (tile: string) => void;
}

/** What is proposed for a draft, drawn with real figures: a page of its own, of which nothing is stored. */
export function Proposed({ dashboard, trial, onTake }: Props) {
  const page = useQuery({
    queryKey: ['trial', dashboard, trial],
    gcTime: 0,
    staleTime: 0,
    queryFn: () =>
      unwrap(api.GET('/api/dashboards/{dashboard}', { params: { path: { dashboard } }, headers: trialHeaders(trial) })),
  });
  if (page.error) return <p role="alert">{page.error.message}</p>;
  return page.data ? <Drawn key={page.data.version} page={page.data} trial={trial} onTake={onTake} /> : null;
}

function Drawn({ page, trial, onTake }: { page: DashboardPage; trial: string; onTake: Props['onTake'] }) {
  const [store] = useState(() =>
    createPage(
      { page, address: readAddress(new URLSearchParams()) },
      serviceOf(page.name, page.view.view, trialHeaders(trial)),
    ),
  );
  useEffect(() => {
    for (const tile of store.getState().shown)
      pictureOf(tile)
        .load()
        .catch(() => undefined);
    return store.start({
      go: () => undefined,
      draw: () => Promise.resolve(page),
      take: () => undefined,
      refetch: () => undefined,
      isSeen: () => true,
    });
  }, [store, page]);
  return (
    <PageContext value={store}>
      <DesignContext value={undefined}>
        <Tiles onTake={onTake} />
      </DesignContext>
    </PageContext>
  );
}

function Tiles({ onTake }: { onTake: Props['onTake'] }) {
  const tiles = usePage((s) => s.shown);
  return (
    <ul className={classes.proposals} aria-label="Proposals">
      {tiles.map((t) => (
        <li key={t.name} data-proposal={t.picture}>
          <div className={classes.proposal}>
            <TileFrame tile={t} />
          </div>
          <Button size="compact-sm" variant="default" fullWidth onClick={() => onTake(t.name)}>
            Take this {t.picture.replaceAll('_', ' ')}
          </Button>
        </li>
      ))}
    </ul>
  );
}
