/** Whether two values say the same, as JSON. */
export const same = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

/** The value from before as long as the new one says the same, so that nothing is drawn anew for it. */
export const held = <T>(before: T, now: T): T => (same(before, now) ? before : now);
