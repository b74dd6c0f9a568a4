import type { DashboardPage } from '../api/client';

/** A name for a tile or a tab of one's own that is not taken yet. */
export function ownName(page: DashboardPage, of: string): string {
  const taken = new Set(page.tabs.flatMap((t) => [t.name, ...t.tiles.map((x) => x.name)]));
  const stem = `own-${of.replace(/^own-/, '').replace(/-\d+$/, '').slice(0, 60)}`;
  let number = 1;
  while (taken.has(`${stem}-${number}`)) number++;
  return `${stem}-${number}`;
}
