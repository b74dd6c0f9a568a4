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
