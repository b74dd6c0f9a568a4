import { useEffect, useState } from 'react';

/** Parts of the drawing library that only some pictures need, and some only under a pointer. */
const loaders = {
  tips: () => import('./libraryTips'),
  markers: () => import('./libraryMarkers'),
  patterns: () => import('./libraryPatterns'),
};
type Part = keyof typeof loaders;

const here = new Set<Part>();
const coming = new Map<Part, Promise<void>>();

/** Brings a part; one that failed to come is asked for again the next time. */
export function bring(part: Part): Promise<void> {
  const known = coming.get(part);
  if (known) return known;
  const promise = loaders[part]().then(
    () => void here.add(part),
    (error: unknown) => {
      coming.delete(part);
      throw error;
    },
  );
  coming.set(part, promise);
  return promise;
}

/** True once all parts are here. @throws What kept one from coming, to be told where the picture is to be drawn. */
export function useParts(parts: readonly Part[]): boolean {
  const [, again] = useState(0);
  const [fault, setFault] = useState<unknown>();
  const missing = parts.filter((p) => !here.has(p)).join(' ');
  useEffect(() => {
    if (missing === '') return;
    let isGone = false;
    Promise.all((missing.split(' ') as Part[]).map(bring)).then(
      () => isGone || again((n) => n + 1),
      (error: unknown) => isGone || setFault(error),
    );
    return () => {
      isGone = true;
    };
  }, [missing]);
  if (fault !== undefined) throw fault;
  return missing === '';
}
