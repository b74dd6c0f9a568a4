import { type Address, isSameAddress } from '../address';
import type { Effect, Tools } from './effect';

/** Writes the page's address into its window. */
export function addressing({ host, state }: Tools): Effect {
  let told: Address = state().address;
  return {
    hear(now, action) {
      if (action?.type === 'address') told = action.address;
      if (isSameAddress(now.address, told)) return;
      told = now.address;
      // What the viewer did is a step of the visit; what the page puts right is none.
      const isReplacing =
        action === undefined ||
        action.type === 'address' ||
        action.type === 'link checked' ||
        action.type === 'fetched' ||
        (action.type === 'open tab' && action.replace === true);
      host.go(now.address, isReplacing);
    },
    stop: () => undefined,
  };
}
