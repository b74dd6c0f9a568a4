import type { PageState } from './state';

/** The tile that has the whole area for itself, if there is one. */
export const largeOf = (state: PageState): string | undefined =>
  state.isArranging ? undefined : state.shown.find((t) => t.name === state.address.large && !t.isInPanel)?.name;
