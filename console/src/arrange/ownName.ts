import type { DashboardPage, TabInfo } from '../api/client';
import { drafted } from '../api/draft';

/** A name for a tile or a tab of one's own that is not taken yet. */
export function ownName(page: DashboardPage, of: string): string {
  const taken = new Set(page.tabs.flatMap((t) => [t.name, ...t.tiles.map((x) => x.name)]));
  // In a draft it is the dashboard's own, and called as its developer would call it.
  const stem = `${drafted === undefined ? 'own-' : ''}${of.replace(/^own-/, '').replace(/-\d+$/, '').slice(0, 60)}`;
  let number = 1;
  while (taken.has(`${stem}-${number}`)) number++;
  return `${stem}-${number}`;
}

/** Where a tile goes that is added to a tab: below what stands in no section; where all stand in sections, in the first. */
export function sectionFor(tab: TabInfo): string | null {
  const isPlain = tab.sections.length === 0 || tab.tiles.some((t) => t.section === null && !t.isInPanel);
  return isPlain ? null : (tab.sections.find((s) => s.may.includes('add'))?.name ?? null);
}
