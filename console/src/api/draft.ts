const path = /^\/d\/([^/]+)\/design$/;

/** The dashboard that a window's address has its draft of; undefined for what is published. */
export function draftAt(pathname: string): string | undefined {
  const name = path.exec(pathname)?.[1];
  return name === undefined ? undefined : decodeURIComponent(name);
}

/** Settled when the page is loaded: all that it asks for is of one draft, or of what is published. */
const drafted = globalThis.location === undefined ? undefined : draftAt(globalThis.location.pathname);

/** What every request of a page of a draft carries. */
export const draftHeaders: Record<string, string> = drafted === undefined ? {} : { 'Weir-Draft': drafted };
