import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';

/**
 * Listens for news while the page is seen: a published version is taken up at once, datasets with new data are told, and a
 * broken definition to those who define. A page in the background lets its connection go, since a browser has only a few for one service; what it
 * missed it finds out when it is seen again.
 */
export function useNews(onData: (datasets: string[]) => void): string[] {
  const [faults, setFaults] = useState<string[]>([]);
  const queries = useQueryClient();
  const told = useRef(onData);
  told.current = onData;
  useEffect(() => {
    let source: EventSource | undefined;
    let version: number | undefined;

    function listen() {
      if (document.hidden) {
        source?.close();
        source = undefined;
      }
      if (document.hidden || source) return;
      source = new EventSource('/api/events');
      source.addEventListener('published', (event) => {
        const news = JSON.parse(event.data) as { version: number };
        if (version !== undefined && news.version !== version) void queries.invalidateQueries();
        version = news.version;
        setFaults([]);
      });
      source.addEventListener('data', (event) => told.current((JSON.parse(event.data) as { items: string[] }).items));
      source.addEventListener('broken', (event) => setFaults((JSON.parse(event.data) as { items: string[] }).items));
    }

    listen();
    document.addEventListener('visibilitychange', listen);
    return () => {
      document.removeEventListener('visibilitychange', listen);
      source?.close();
    };
  }, [queries]);
  return faults;
}
