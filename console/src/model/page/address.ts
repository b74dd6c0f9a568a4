/** The parts of a page's address that say what is shown; null where it says nothing. */
export interface Address {
  /** The open tab. */
  tab: string | null;
  /** What is picked, where it is not what the dashboard opens with. */
  pick: string | null;
  /** What is set of parameters. */
  set: string | null;
  /** The state that was pinned as A, to be compared with. */
  a: string | null;
  /** The tile that has the whole area for itself. */
  large: string | null;
}

const parts = ['tab', 'pick', 'set', 'a', 'large'] as const;

/** The address of a page from its query. */
export const readAddress = (query: URLSearchParams): Address => ({
  tab: query.get('tab'),
  pick: query.get('pick'),
  set: query.get('set'),
  a: query.get('a'),
  large: query.get('large'),
});

/** A query with an address in it; whatever else it has stays. */
export function writeAddress(query: URLSearchParams, address: Address): URLSearchParams {
  const next = new URLSearchParams(query);
  for (const part of parts) {
    const text = address[part];
    if (text === null) next.delete(part);
    else next.set(part, text);
  }
  return next;
}

export const isSameAddress = (a: Address, b: Address): boolean => parts.every((p) => a[p] === b[p]);
