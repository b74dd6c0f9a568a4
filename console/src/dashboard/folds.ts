const keyOf = (dashboard: string) => `weir-sections-${dashboard}`;

/** The sections of a dashboard that were folded or unfolded in this browser. */
export function foldsOf(dashboard: string): Record<string, boolean> {
  try {
    const read = JSON.parse(localStorage.getItem(keyOf(dashboard)) ?? '{}') as unknown;
    return typeof read === 'object' && read !== null ? (read as Record<string, boolean>) : {};
  } catch {
    return {};
  }
}

/** Remembers for the next visit which sections are folded. */
export const keepFolds = (dashboard: string, folds: Record<string, boolean>) =>
  localStorage.setItem(keyOf(dashboard), JSON.stringify(folds));

const visitOf = (dashboard: string) => `weir-visited-${dashboard}`;

/** True if this browser shows a dashboard for the first time that says something about itself. */
export const isFirstVisit = (page: { name: string; description: string | null; origin: string | null }): boolean =>
  (page.description !== null || page.origin !== null) && localStorage.getItem(visitOf(page.name)) === null;

/** Remembers that a dashboard was shown. */
export const keepVisit = (dashboard: string) => localStorage.setItem(visitOf(dashboard), 'yes');
