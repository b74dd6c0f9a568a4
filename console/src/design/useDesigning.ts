import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { api, unwrap } from '../api/client';
import type { Designing } from './useDesign';
import type { useDesk } from './useDesk';
import { type Carried, type Said, tilesOf } from './written';

/** What may be named in a definition: datasets, pictures, the keys of a tile. */
export function useKnown() {
  const datasets = useQuery({ queryKey: ['datasets'], queryFn: () => unwrap(api.GET('/api/datasets')) }).data;
  const pictures = useQuery({ queryKey: ['pictures'], queryFn: () => unwrap(api.GET('/api/pictures')) }).data;
  const keys = useQuery({ queryKey: ['tile keys'], queryFn: () => unwrap(api.GET('/api/tile-keys')) }).data;
  return useMemo(
    () => ({
      datasets: datasets ?? [],
      pictures: (pictures ?? []).map((p) => ({ ...p, about: p.summary })),
      keys: keys ?? [],
    }),
    [datasets, pictures, keys],
  );
}

type Known = ReturnType<typeof useKnown>;

/** The text of a part of a definition by itself: moved to the left as far as it stands from it. */
function partOf(text: string, { start, end }: { start: number; end: number }): string {
  const column = start - (text.lastIndexOf('\n', start - 1) + 1);
  const lines = text.slice(start, end).split('\n');
  const moved = lines.map((line, i) =>
    i === 0 ? line : line.slice(Math.min(column, line.length - line.trimStart().length)),
  );
  return `${moved.join('\n').trimEnd()}\n`;
}

/** What the parts of a design share: what is known and written, the tile that is chosen, and what is done by hand. */
export function useDesigning(dashboard: string, desk: ReturnType<typeof useDesk>, known: Known): Designing {
  const [selected, setSelected] = useState<string>();
  const [carried, setCarried] = useState<Carried>();
  const { setWay, go, take } = desk;
  const { draft, byHand } = desk.work;
  const { written, text } = draft;
  const acts = useMemo(() => {
    const params = { path: { dashboard } };
    const placed = new Map((written?.tiles ?? []).map((t) => [t.tile, t]));
    return {
      select: (tile?: string) => {
        setSelected(tile);
        if (tile !== undefined) setWay('hand');
      },
      carry: setCarried,
      take,
      arrange: (edit) =>
        byHand(() => unwrap(api.POST('/api/drafts/dashboards/{dashboard}/edits', { params, body: { edit } }))),
      paste: (paste, tab) =>
        byHand(() => unwrap(api.POST('/api/drafts/dashboards/{dashboard}/edits', { params, body: { paste, tab } }))),
      textOf: (tile) => {
        const at = placed.get(tile);
        return at && partOf(text, at);
      },
      showText: (tile) => {
        const at = placed.get(tile);
        if (at) go(text.slice(0, at.start).split('\n').length, 1);
      },
    } satisfies Partial<Designing>;
  }, [dashboard, written, text, byHand, setWay, go, take]);
  const said = written?.said as Said | undefined;
  const isThere = tilesOf(said).some((t) => t.name === selected);
  useEffect(() => {
    if (selected !== undefined && said !== undefined && !isThere) setSelected(undefined);
  }, [selected, said, isThere]);
  return useMemo(
    () => ({ dashboard, said, ...known, selected, carried, ...acts }),
    [dashboard, said, known, selected, carried, acts],
  );
}

/** Brings a tile that is chosen, or new, into sight, once it is there. */
export function useLookedAt(selected: string | undefined) {
  useEffect(() => {
    if (selected === undefined) return;
    const find = () => document.querySelector(`[data-tile="${CSS.escape(selected)}"]`);
    const seen = () => {
      find()?.scrollIntoView({ block: 'nearest' });
    };
    if (find()) {
      seen();
      return;
    }
    const waiting = new MutationObserver(() => {
      if (!find()) return;
      waiting.disconnect();
      seen();
    });
    waiting.observe(document.body, { childList: true, subtree: true });
    return () => waiting.disconnect();
  }, [selected]);
}
