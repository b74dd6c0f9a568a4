import { useLocalStorage } from '@mantine/hooks';
import { useState } from 'react';
import { type Lines, linesOf, visitWith } from '../model/lines';
import { asPublished, type Setting } from './columnActs';
import type { TableProps } from './tableProps';

/** How the columns of a table stand, and how its lines are in this visit and as they are kept. */
export function useSetting({
  name,
  published = asPublished,
  kept,
  visit,
  columns,
}: Pick<TableProps, 'name' | 'published' | 'kept' | 'visit' | 'columns'>) {
  const [own, setOwn, forget] = useLocalStorage<Setting>({
    key: `weir-table-${name}-${columns.map((c) => c.name).join(' ')}`,
    defaultValue: published,
    getInitialValueInEffect: false,
  });
  // While the hand draws at the edge of a column nothing is kept.
  const [atEdge, setAtEdge] = useState<{ id: string; width: number }>();
  const stored = kept?.setting ?? own;
  const setting = atEdge ? { ...stored, widths: { ...stored.widths, [atEdge.id]: atEdge.width } } : stored;
  const setSetting = (change: (setting: Setting) => Setting) => {
    const next = change(stored);
    if (kept) kept.onSetting(next === asPublished ? undefined : next);
    else if (next === asPublished) forget();
    else setOwn(next);
  };
  // What a browser kept before lines were kept has none.
  const ofView = linesOf(setting);
  // A click on a heading, and what is filtered, lasts for the visit until it is kept.
  const [ownVisit, setOwnVisit] = useState<Partial<Lines>>();
  const visited = visit ? visit.lines : ownVisit;
  const setVisited = (part: Partial<Lines>) => (visit?.onLines ?? setOwnVisit)(visitWith(visited, part, ofView));
  const lines: Lines = { ...ofView, ...visited };
  const leave = (part: keyof Lines) => setVisited({ [part]: ofView[part] });
  const keep = (part: keyof Lines) => {
    setSetting((s) => ({ ...s, [part]: lines[part] }));
    leave(part);
  };
  /** What is drawn at an edge lasts; nothing does, if it is left without a width. */
  const leaveEdge = (id: string, width: number | undefined) => {
    if (width !== undefined) setSetting((s) => ({ ...s, widths: { ...s.widths, [id]: width } }));
    setAtEdge(undefined);
  };
  return { setting, setSetting, setAtEdge, leaveEdge, lines, ofView, setVisited, leave, keep };
}

export type SettingOfTable = ReturnType<typeof useSetting>;
