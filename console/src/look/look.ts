import { createStore, useStore } from 'zustand';
import { type House, withHouse } from './house';
import { contrast, dark, large, light, type Tokens } from './tokens';

/** What a viewer may choose; as the system has it unless they did. */
export const colours = ['system', 'light', 'dark', 'contrast'] as const;
export type Colours = (typeof colours)[number];

/** How the console looks. */
export interface Look {
  colours: Colours;
  isLarge: boolean;
}

interface Shown extends Look {
  /** True if the address says so, and not the viewer. */
  isByAddress: boolean;
  tokens: Tokens;
}

const key = 'weir-look';

/** A look as it is written in an address or kept in the browser, such as dark, or dark-large. */
export function readLook(text: string | null): Look | undefined {
  const words = (text ?? '').split('-');
  const named = colours.find((c) => words.includes(c));
  const isLarge = words.includes('large');
  return named || isLarge ? { colours: named ?? 'system', isLarge } : undefined;
}

export const writeLook = ({ colours, isLarge }: Look): string => `${colours}${isLarge ? '-large' : ''}`;

const wants = (query: string) => globalThis.matchMedia?.(query).matches === true;

/** The colours that a choice means here and now. */
function tokensOf({ colours, isLarge }: Look): Tokens {
  const named =
    colours === 'system'
      ? wants('(prefers-contrast: more)')
        ? contrast
        : wants('(prefers-color-scheme: dark)')
          ? dark
          : light
      : { light, dark, contrast }[colours];
  const coloured = withHouse(named, house);
  return isLarge ? large(coloured) : coloured;
}

/** The colours of the workspace, kept in the browser so that a page stands in them from the start. */
const houseKey = 'weir-house';
let house: House | undefined = readHouse();

function readHouse(): House | undefined {
  const kept = globalThis.localStorage?.getItem(houseKey);
  return kept ? (JSON.parse(kept) as House) : undefined;
}

/** Puts the colours of a workspace on everything; without any the usual ones. */
export function paintHouse(next: House | undefined): void {
  if (JSON.stringify(next) === JSON.stringify(house)) return;
  house = next;
  if (next) localStorage.setItem(houseKey, JSON.stringify(next));
  else localStorage.removeItem(houseKey);
  store.setState({ tokens: tokensOf(store.getState()) });
}

function shown(): Shown {
  const query = new URLSearchParams(globalThis.location?.search ?? '');
  // What hangs on a wall is read from afar.
  const byAddress = readLook(query.get('look') ?? (query.get('wall') === null ? null : 'large'));
  const look = byAddress ??
    readLook(globalThis.localStorage?.getItem(key) ?? null) ?? { colours: 'system', isLarge: false };
  return { ...look, isByAddress: byAddress !== undefined, tokens: tokensOf(look) };
}

const store = createStore<Shown>(shown);

/** The colours and sizes of now. */
export const useTokens = (): Tokens => useStore(store, (s) => s.tokens);

/** What is chosen, by whom. */
export const useLook = (): Shown => useStore(store);

/** Chooses a look, for this browser; an address that says another one says it no more. */
export function chooseLook(look: Look): void {
  localStorage.setItem(key, writeLook(look));
  store.setState({ ...look, isByAddress: false, tokens: tokensOf(look) });
}

/** Light, in the colours of the workspace, whatever the viewer's own look is: what is taken along is for paper and for others. */
export function onPaper(of: House | undefined): void {
  house = of;
  store.setState({ colours: 'light', isLarge: false, isByAddress: false, tokens: withHouse(light, house) });
}

/** Puts the tokens where the style sheets find them, now and whenever the look changes. */
export function applyLook(): void {
  const apply = ({ tokens }: Shown) => {
    const { style, dataset } = document.documentElement;
    for (const [name, value] of Object.entries(tokens))
      if (typeof value === 'string')
        style.setProperty(`--${name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}`, value);
    style.setProperty('--scale', `${tokens.scale}`);
    style.colorScheme = schemeOf(tokens);
    // An image of the workspace is drawn for paper.
    style.setProperty('--paper', schemeOf(tokens) === 'dark' ? '#E6ECEA' : 'transparent');
    dataset.scale = tokens.scale > 1 ? 'large' : 'usual';
  };
  apply(store.getState());
  store.subscribe(apply);
  for (const query of ['(prefers-contrast: more)', '(prefers-color-scheme: dark)'])
    matchMedia(query).addEventListener('change', () => {
      const look = store.getState();
      if (look.colours === 'system') store.setState({ tokens: tokensOf(look) });
    });
}

/** What the browser's own parts go by. */
export const schemeOf = (tokens: Tokens): 'light' | 'dark' => (tokens.page === dark.page ? 'dark' : 'light');
