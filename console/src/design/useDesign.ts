import { createContext, useContext } from 'react';
import type { Schemas, ViewEdit } from '../api/client';
import type { Carried, Dataset, Picture, Said, Step, TileKey } from './written';

/** What parts of a page need to know while their dashboard is designed. */
export interface Designing {
  dashboard: string;
  /** What the text says; undefined while it can't be read. */
  said: Said | undefined;
  datasets: Dataset[];
  pictures: Picture[];
  keys: TileKey[];
  /** The tile that is being worked on. */
  selected: string | undefined;
  select: (tile: string | undefined) => void;
  /** What is carried from the list of fields. */
  carried: Carried | undefined;
  carry: (carried: Carried | undefined) => void;
  /** Changes places of the text, as one step. True once that is stored. */
  take: (steps: Step[]) => Promise<boolean>;
  /** Does to the draft what is done to a view; see the edits of views. */
  arrange: (edit: ViewEdit) => Promise<boolean>;
  /** Puts tiles that are given as text on a tab. */
  paste: (yaml: string, tab: string) => Promise<boolean>;
  /** The text of a tile, as it stands in the file. */
  textOf: (tile: string) => string | undefined;
  /** Shows where a tile stands in the text. */
  showText: (tile: string) => void;
}

export type DraftAnswer = Schemas['DraftAnswer'];

export const DesignContext = createContext<Designing | undefined>(undefined);

/** The design that a page is part of; undefined for pages that are only looked at. */
export const useDesign = (): Designing | undefined => useContext(DesignContext);
