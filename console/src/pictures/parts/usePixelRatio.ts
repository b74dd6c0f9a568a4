import { useSyncExternalStore } from 'react';

/** How many pixels of the screen a pixel of the page is; another after the page was enlarged or moved to another screen. */
export const usePixelRatio = (): number => useSyncExternalStore(listen, () => window.devicePixelRatio);

function listen(changed: () => void) {
  let query = matchMedia(`(resolution: ${window.devicePixelRatio}dppx)`);
  const hear = () => {
    query.removeEventListener('change', hear);
    query = matchMedia(`(resolution: ${window.devicePixelRatio}dppx)`);
    query.addEventListener('change', hear);
    changed();
  };
  query.addEventListener('change', hear);
  return () => query.removeEventListener('change', hear);
}
