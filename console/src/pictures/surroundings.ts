import { createContext } from 'react';

/**
 * What is to be done where nothing can be opened or scrolled: grow until all is shown, as on pages of paper, or say what has no
 * room, as in pictures of a size; null on a page that answers.
 */
export const Still = createContext<'grow' | 'say' | null>(null);

/** The address from which ways that are told without a host lead, where what is shown stands in a file; null on the page itself. */
export const Home = createContext<string | null>(null);
