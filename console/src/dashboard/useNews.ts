import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { isShared } from '../api/draft';
import type { Action } from '../model/page/state';

/**
 * Listens for news while the page is seen: a published version is taken up at once, datasets with new data are told, and a
 * broken definition to those who define; what somebody shares of their own is followed step by step. A page in the
 * background lets its connection go, since a browser has only a few for one service; what it missed it finds out when it
 * is seen again.
 * @param view The view that is open: of one that was sent by a link only whoever has it open is told.
 */
export function useNews(
  dispatch: (action: Action) => void,
  onView: (dashboard: string, view: string, mark: string) => void,
  view: string,
) {
  const queries = useQueryClient();
  useEffect(() => {
    let source: EventSource | undefined;
    let version: number | undefined;
    let step: number | undefined;
    let wasAway = false;

    function listen() {
      if (document.hidden) {
        source?.close();
        source = undefined;
        wasAway = true;
      }
      if (document.hidden || source) return;
      source = new EventSource(`/api/events?view=${encodeURIComponent(view)}`);
      // Broken off, it begins anew by itself.
      source.addEventListener('error', () => {
        wasAway = true;
      });
      source.addEventListener('published', (event) => {
        const news = JSON.parse(event.data) as { version: number };
        // What a shared one was changed to meanwhile is told by no version.
        if ((version !== undefined && news.version !== version) || (wasAway && isShared()))
          void queries.invalidateQueries();
        version = news.version;
        wasAway = false;
        step = undefined;
        dispatch({ type: 'news', faults: [] });
      });
      source.addEventListener('own', (event) => {
        const news = JSON.parse(event.data) as { version: number; items: string[] };
        // A step that is broken changes nothing for others.
        if (!isShared(news.items[0], news.items[1]) || news.version === step) return;
        step = news.version;
        void queries.invalidateQueries();
      });
      source.addEventListener('data', (event) => {
        const { items } = JSON.parse(event.data) as { items: string[] };
        dispatch({ type: 'read anew', of: (t) => typeof t.datasetName === 'string' && items.includes(t.datasetName) });
      });
      source.addEventListener('view', (event) => {
        const { items } = JSON.parse(event.data) as { items: string[] };
        onView(items[0] ?? '', items[1] ?? '', items[2] ?? '');
      });
      source.addEventListener('broken', (event) => {
        const { items } = JSON.parse(event.data) as { items: string[] };
        dispatch({ type: 'news', faults: items });
      });
    }

    listen();
    document.addEventListener('visibilitychange', listen);
    return () => {
      document.removeEventListener('visibilitychange', listen);
      source?.close();
    };
  }, [queries, dispatch, onView, view]);
}
