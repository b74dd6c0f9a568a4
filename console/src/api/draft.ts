import type { components } from './schema';

const path = /^\/(?:d\/([^/]+)\/(?:design|seen|version\/\d+)|own\/(?:([^/]+)\/)?([^/]+))$/;

/** How the names of dashboards of one's own begin. */
export const ownPrefix = 'own-';

/** Where a dashboard is looked at: one of one's own, or a published one. */
export const placeOf = (dashboard: string, isOwn = dashboard.startsWith(ownPrefix)) =>
  `/${isOwn ? 'own' : 'd'}/${encodeURIComponent(dashboard)}`;

/** The dashboard that a window's address has its draft of; undefined for what is published. */
export function draftAt(pathname: string): string | undefined {
  const found = path.exec(pathname);
  return decoded(found?.[1] ?? found?.[3]);
}

/** Settled when the page is loaded: all that it asks for is of one draft, or of what is published; undefined for the latter. */
export const drafted = globalThis.location === undefined ? undefined : draftAt(globalThis.location.pathname);

/** Whose own dashboard this window looks at, where somebody else shares it. */
const sharer = globalThis.location === undefined ? undefined : decoded(path.exec(globalThis.location.pathname)?.[2]);

/** A part of an address as it was before it was put there; undefined for one that no page can be at. */
export function decoded(part: string | undefined): string | undefined {
  try {
    return part && decodeURIComponent(part);
  } catch {
    return undefined;
  }
}

/** True if this window looks at a dashboard of somebody else's own. */
export const isShared = (owner = sharer, dashboard = drafted) =>
  sharer !== undefined && owner === sharer && dashboard === drafted;

/** True for a page of a draft that is looked at as others have it: beside the design, and nothing can be changed in it. */
export const isSeen =
  globalThis.location !== undefined && /^\/d\/[^/]+\/(?:seen|version\/\d+)$/.test(globalThis.location.pathname);

/** The earlier version that this window looks at; undefined for none. */
export const versionSeen =
  globalThis.location === undefined
    ? undefined
    : /^\/d\/[^/]+\/version\/(\d+)$/.exec(globalThis.location.pathname)?.[1];

/** True where what is done to the page is written into the text beside it. */
export const isDesigning =
  drafted !== undefined && versionSeen === undefined && globalThis.location.pathname.startsWith('/d/');

/** How a window looks at the page of a draft: parameters and view, as its address has them. */
export interface PageBeside {
  set: string | null;
  view: string | null;
}

/** The page of the draft of this window: what changes the draft brings it along. */
export const pageBeside: { now?: PageBeside } = {};

/** A page as what changes its draft asks for it, and as the answer tells of which it is: it may be looked at otherwise by then. */
export function askedPage(page: PageBeside): string {
  const query = new URLSearchParams();
  for (const key of ['set', 'view'] as const) if (page[key] !== null) query.set(key, page[key]);
  return `?${query}`;
}

const sampleKey = 'weir-sample';

/** How many of a hundred rows the draft that is designed in this window is drawn on; null for all. */
export const sample = isDesigning && globalThis.sessionStorage?.getItem(sampleKey) === drafted ? 10 : null;

/** Draws the draft of this window on a sample from now on, or on all rows: all that it shows is loaded anew. */
export function drawOnSample(isOn: boolean): void {
  if (isOn && drafted !== undefined) sessionStorage.setItem(sampleKey, drafted);
  else sessionStorage.removeItem(sampleKey);
  window.location.reload();
}

/** What every request of a page of a draft carries. */
export const draftHeaders: Record<string, string> = {
  ...(drafted === undefined ? {} : { 'Weir-Draft': drafted }),
  ...(sample === null ? {} : { 'Weir-Sample': `${sample}` }),
  ...(versionSeen === undefined ? {} : { 'Weir-Trial': `version-${versionSeen}` }),
  ...(sharer === undefined ? {} : { 'Weir-Draft-Of': sharer }),
};

/** What requests for figures of proposals carry: on pages of no draft that they are for one, too. */
export const trialHeaders = (trial: string) => ({ 'Weir-Draft': drafted ?? `${ownPrefix}tile`, 'Weir-Trial': trial });

/** How pages that are looked at beside a design hear of its steps. */
export const stepsOf = (dashboard: string) => new BroadcastChannel(`weir-draft ${dashboard}`);

type Draft = components['schemas']['DraftAnswer'];
const hearing = new Set<(draft: Draft) => void>();

/** Hears of the draft as the page beside its text has changed it. */
export function onDraft(hear: (draft: Draft) => void): () => void {
  hearing.add(hear);
  return () => hearing.delete(hear);
}

/** Tells that the page changed the draft. */
export const tellDraft = (draft: Draft) => {
  for (const hear of hearing) hear(draft);
};
