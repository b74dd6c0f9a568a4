import { type ReactNode, useEffect, useState } from 'react';
import type { DashboardPage, TileInfo } from '../api/client';
import { serviceOf } from '../api/dashboard';
import { PageContext, usePage } from '../dashboard/usePage';
import { readAddress } from '../model/page/address';
import { createPage } from '../model/page/pageStore';
import { pictureOf } from '../pictures';
import { DesignContext } from './useDesign';

interface Props {
  page: DashboardPage;
  /** What its questions carry besides. */
  headers: Record<string, string>;
  /** The tiles that are drawn; all of the first tab if left out. */
  names?: string[];
  children: (tile: TileInfo) => ReactNode;
}

/** Tiles of a page drawn with real figures by themselves: a page of its own, of which nothing is stored. */
export function LoneTiles({ page, headers, names, children }: Props) {
  const [store] = useState(() => {
    const [first] = page.tabs;
    const only =
      names === undefined || !first
        ? page
        : {
            ...page,
            areas: [],
            tabs: [
              {
                ...first,
                sections: [],
                tiles: page.tabs.flatMap((t) => t.tiles).filter((t) => names.includes(t.name)),
              },
            ],
          };
    return createPage(
      { page: only, address: readAddress(new URLSearchParams()) },
      serviceOf(page.name, page.view.view, headers),
    );
  });
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
        <Tiles>{children}</Tiles>
      </DesignContext>
    </PageContext>
  );
}

function Tiles({ children }: { children: Props['children'] }) {
  return usePage((s) => s.shown).map(children);
}
