import { draftHeaders, isSeen } from './draft';

/** As whom this window looks, and where it came from; kept for the window alone. */
interface Looking {
  name: string;
  from: string;
}

const key = 'looking-as';

function read(): Looking | undefined {
  if (isSeen) {
    const name = new URLSearchParams(globalThis.location.search).get('as');
    return name === null ? undefined : { name, from: '/' };
  }
  // Without a window nobody looks as anybody.
  const text = globalThis.sessionStorage?.getItem(key) ?? null;
  return text === null ? undefined : (JSON.parse(text) as Looking);
}

/** Settled when the page is loaded: all that it shows is one viewer's. */
const looking = read();

/** As whom this window looks: a name, or role: and a role; undefined for oneself. */
export const lookedAs = looking?.name;

/** What every request carries. */
export const lookHeaders: Record<string, string> = {
  ...(looking ? { 'Weir-Look-As': looking.name } : {}),
  ...draftHeaders,
};

/** Looks as another from now on: the page is loaded anew, without picks or parameters of one's own. */
export function lookAs(name: string): void {
  const { pathname, search } = window.location;
  const from = looking?.from ?? pathname + search;
  sessionStorage.clear();
  sessionStorage.setItem(key, JSON.stringify({ name, from } satisfies Looking));
  window.location.assign(pathname);
}

/** Back to oneself, where one was. */
export function leaveLooking(): void {
  sessionStorage.clear();
  window.location.assign(looking?.from ?? '/');
}
