import type { TabInfo } from '../../api/client';

/** What a section of a tab is called among those of all tabs. */
export const sectionKey = (tab: string, section: string) => `${tab}/${section}`;

/** True if a section is folded: by the viewer, or else as it opens. */
export const isFolded = (folds: Record<string, boolean>, tab: TabInfo, section: string): boolean =>
  folds[sectionKey(tab.name, section)] ?? tab.sections.find((s) => s.name === section)?.isFolded ?? false;
