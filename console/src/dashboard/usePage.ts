import { createContext, useContext } from 'react';
import { useStore } from 'zustand';
import type { PageStore } from '../model/page/pageStore';
import type { Action, PageState } from '../model/page/state';

/** The page that components below it show. */
export const PageContext = createContext<PageStore | undefined>(undefined);

/** The owner of the page's state. */
export function usePageStore(): PageStore {
  const store = useContext(PageContext);
  if (!store) throw new Error('There is no dashboard page around this component.');
  return store;
}

/** A slice of the page's state; a component is drawn anew when that slice changes, and only then. */
export const usePage = <T>(slice: (state: PageState) => T): T => useStore(usePageStore(), slice);

/** The way in which components change anything. */
export const useDispatch = (): ((action: Action) => void) => usePageStore().dispatch;
