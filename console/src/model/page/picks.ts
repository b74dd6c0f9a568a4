import type { DashboardPage } from '../../api/client';
import { sameSettings } from '../parameters';
import { held, same } from '../same';
import { known, readSelections, type Selection, type Selections, writeSelections } from '../selections';
import { wiringOf } from '../wiring';
import type { Address } from './address';
import type { Action, Given, PageState } from './state';

/** The same picks, whichever was made first. */
const samePicks = (a: Selections, b: Selections) => same(Object.entries(a).sort(), Object.entries(b).sort());

/** How selections stand in an address: what the dashboard opens with needs no word. */
export const addressOfPicks = (picks: Selections, opens: Selections): string | null =>
  samePicks(picks, opens) ? null : (writeSelections(picks) ?? '{}');

/** True if a part of the address is as the page was called up with it. */
const isBrought = (given: Given, text: string | null, which: 'pick' | 'pin') =>
  text !== null && text === given.link[which];

/** The texts of a checked link without what the viewer may not see. */
const cleaned = (given: Given) =>
  given.checked && {
    pick: given.checked.pick && (writeSelections(given.checked.pick) ?? '{}'),
    pin: given.checked.pin && JSON.stringify(given.checked.pin),
  };

/** An address that tells values which the viewer may not see is put right. */
export function corrected(address: Address, given: Given): Address {
  const clean = cleaned(given);
  if (!clean || given.checked?.dropped.length === 0) return address;
  const pick = isBrought(given, address.pick, 'pick') ? (clean.pick ?? null) : address.pick;
  const a = isBrought(given, address.a, 'pin') ? (clean.pin ?? null) : address.a;
  return pick === address.pick && a === address.a ? address : { ...address, pick, a };
}

/** What is picked on a page: in the hand, waiting to be applied, in the address, or what the dashboard opens with. */
export function picksOf(
  given: Given,
  page: DashboardPage,
  before?: PageState,
): Pick<PageState, 'opens' | 'written' | 'selections' | 'applied' | 'pinned' | 'isReady' | 'dropped'> {
  const { address, checked, own } = given;
  const isSame =
    before !== undefined &&
    before.page === page &&
    before.own === own &&
    before.opening === given.opening &&
    before.openingProblem === given.openingProblem &&
    before.checked === checked &&
    before.isLinkUnchecked === given.isLinkUnchecked &&
    before.address.pick === address.pick &&
    before.address.a === address.a;
  const addressed = isSame ? before : ofAddress(given, page, before);
  const { opens, written, pinned, isReady, dropped } = addressed;
  const applied = (page.appliesOnButton ? undefined : given.live) ?? written;
  const selections = given.live ?? given.draft ?? written;
  return {
    opens,
    written,
    pinned,
    isReady,
    dropped,
    applied: held(before?.applied ?? {}, applied),
    selections: held(before?.selections ?? {}, selections),
  };
}

function ofAddress(given: Given, page: DashboardPage, before?: PageState) {
  const { address, checked, own, opening } = given;
  const opens = held(before?.opens ?? {}, own?.selections ?? opening?.selections ?? {});
  // What must be picked is, also where an address leaves it out; the service takes it so too.
  const complete = (picks: Selections): Selections => {
    const missing = wiringOf(page).tiles.flatMap((t) => {
      const first = opens[t.name];
      return t.isRequired && !picks[t.name] && first ? [[t.name, first] as const] : [];
    });
    return missing.length === 0 ? picks : { ...picks, ...Object.fromEntries(missing) };
  };
  const read = (text: string, which: 'pick' | 'pin') =>
    // Without an answer it stays as it is: what the viewer may not see brings no rows in any case.
    complete((isBrought(given, text, which) && checked?.[which]) || known(readSelections(text), page).selections);
  const [fromLink, pinFromLink] = [isBrought(given, address.pick, 'pick'), isBrought(given, address.a, 'pin')];
  const waits =
    ((fromLink || pinFromLink) && !checked && !given.isLinkUnchecked) ||
    (address.pick === null && page.hasOpening && !own && !opening && given.openingProblem === undefined);
  const clean = cleaned(given);
  const isCleaned = (text: string | null, of: string | undefined) => text !== null && text === of;
  const isOfLink = fromLink || pinFromLink || isCleaned(address.pick, clean?.pick) || isCleaned(address.a, clean?.pin);
  return {
    opens,
    written: held(before?.written ?? {}, address.pick === null ? opens : read(address.pick, 'pick')),
    pinned: held(before?.pinned, address.a === null ? undefined : read(address.a, 'pin')),
    isReady: !waits,
    // Told until the viewer goes on to another state.
    dropped: address.pick === null && own ? own.dropped : isOfLink ? (checked?.dropped ?? []) : [],
  };
}

/** A pick on a tile. While the hand moves it is shown; when it lets go it is in the address. */
export function withPick(state: PageState, { tile, selection, isLive }: Action & { type: 'pick' }): Partial<Given> {
  const { [tile]: _, ...others } = state.selections;
  // Where something must be picked, letting go leads back to what the dashboard opens with.
  const isRequired = wiringOf(state.page).named.get(tile)?.isRequired;
  const wanted: Selection | undefined = selection ?? (isRequired ? state.opens[tile] : undefined);
  const next = wanted ? { ...others, [tile]: wanted } : others;
  if (state.page.appliesOnButton) return { draft: samePicks(next, state.written) ? undefined : next };
  if (isLive) return { live: next };
  return { live: undefined, address: { ...state.address, pick: addressOfPicks(next, state.opens) } };
}

/** The parameters as the viewer has them before them: on their way, waiting, or in the address. */
export const settingsText = ({ coming, draftSet, address, own }: Given): string | null =>
  (coming ? coming.set : draftSet === undefined ? address.set : draftSet) ?? own?.set ?? null;

/** True if something is picked or set otherwise than when the dashboard opens. */
export const isOtherThanOpened = (state: PageState): boolean =>
  addressOfPicks(state.selections, state.opens) !== null ||
  !sameSettings(state.address.set ?? state.own?.set ?? null, state.own?.set ?? null);
