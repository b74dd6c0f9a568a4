import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';

/** Listens for news: a published version is taken up at once; a broken definition is told to those who define. */
export function useNews(): string[] {
  const [faults, setFaults] = useState<string[]>([]);
  const queries = useQueryClient();
  useEffect(() => {
    const source = new EventSource('/api/events');
    let version: number | undefined;
    source.addEventListener('published', (event) => {
      const news = JSON.parse(event.data) as { version: number };
      if (version !== undefined && news.version !== version) void queries.invalidateQueries();
      version = news.version;
      setFaults([]);
    });
    source.addEventListener('broken', (event) => setFaults((JSON.parse(event.data) as { faults: string[] }).faults));
    return () => source.close();
  }, [queries]);
  return faults;
}
