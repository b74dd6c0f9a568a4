import type { DashboardPage } from '../../api/client';
import { type Names, keyOf as nameKey, ofResult, type ToldNames, together, withNames } from '../names';
import type { Kept } from '../opening';
import {
  drawingSet,
  drawingsIn,
  effectiveSettings,
  knownSettings,
  presentOf,
  readSettings,
  writeSettings,
} from '../parameters';
import { held } from '../same';
import { fitting } from '../selections';
import { wiringOf } from '../wiring';
import type { Address } from './address';
import { withCells } from './cells';
import { answeredByCells, awaited } from './figures';
import { isFolded } from './folds';
import { addressOfPicks, corrected, picksOf, settingsText, withPick } from './picks';
import type { Action, Given, PageState } from './state';

/** What a page is called up with. */
export interface Start {
  page: DashboardPage;
  own?: Kept;
  problem?: string;
  address: Address;
  /** The sections that were folded or unfolded here before. */
  folds?: Record<string, boolean>;
  /** True to tell at once what the dashboard is for. */
  isAbout?: boolean;
}

/** A page as it is called up: nothing is known of its figures yet. */
export function begin({ page, own, problem, address, folds = {}, isAbout = false }: Start): PageState {
  return follow({
    published: page,
    own,
    ownProblem: problem,
    address,
    names: {},
    link: { pick: address.pick, pin: address.a },
    isLinkUnchecked: false,
    tiles: {},
    compared: {},
    cells: {},
    check: { isOn: false, checked: 0, differences: [] },
    faults: [],
    hidden: {},
    tables: {},
    lines: {},
    windows: {},
    folds,
    saving: { waiting: 0, isHeld: false, hasSaved: false },
    isArranging: false,
    isWired: false,
    isAbout,
  });
}

/** The page after something happened on it: the same object where that changes nothing. */
export function reduce(state: PageState, action: Action): PageState {
  const changed = changes(state, action);
  if (Object.entries(changed).every(([part, value]) => state[part as keyof PageState] === value)) return state;
  const next = follow({ ...state, ...changed }, state);
  const isSameQuestion = (['applied', 'shown', 'data', 'page'] as const).every((part) => next[part] === state[part]);
  if (isSameQuestion) return next;
  const answered = answeredByCells(next);
  if (answered.tiles === next.tiles) return next;
  const isNamed = answered.names !== next.names;
  return isNamed ? follow({ ...next, ...answered }, next) : { ...next, ...answered };
}

/** What is known by tile with another value for one of them; without a value it is as if nothing was said of that tile. */
function withOf<T>(of: Record<string, T>, tile: string, value: T | undefined): Record<string, T> {
  const { [tile]: _, ...others } = of;
  return value === undefined ? others : { ...others, [tile]: value };
}

/** What an action changes of what is given. */
function changes(state: PageState, action: Action): Partial<Given> {
  const to = (address: Partial<Address>): Partial<Given> => ({ address: { ...state.address, ...address } });
  switch (action.type) {
    case 'fetched':
      return { published: action.page, own: action.own, ownProblem: action.problem };
    case 'address':
      return { address: action.address };
    case 'news':
      return { faults: action.faults };
    case 'pick':
      return { ...withPick(state, action), letGo: undefined };
    case 'set':
      return withSettings(state, writeSettings({ ...drawingsIn(settingsOf(state)), ...action.set }));
    case 'draw':
      return withSettings(state, writeSettings(drawingSet(settingsOf(state), action.tile, action.drawing)));
    case 'redraw':
      return { redrawn: action.tile };
    case 'hide series':
      return { hidden: withOf(state.hidden, action.tile, action.names) };
    case 'columns':
      return { tables: { ...state.tables, [action.tile]: action.table } };
    case 'lines':
      return { lines: withOf(state.lines, action.tile, action.lines) };
    case 'window':
      return { windows: withOf(state.windows, action.tile, action.window) };
    case 'carry':
      return { carried: action.tile };
    case 'fold':
      return { folds: { ...state.folds, [action.section]: action.isFolded } };
    case 'apply':
      return {
        ...to({
          ...(state.draft ? { pick: addressOfPicks(state.draft, state.opens) } : {}),
          ...(state.draftSet === undefined ? {} : { set: state.draftSet }),
        }),
        draft: undefined,
        draftSet: undefined,
      };
    case 'discard':
      return { draft: undefined, draftSet: undefined };
    case 'clear': {
      // How tiles are drawn filters nothing: it stays.
      const set = writeSettings(drawingsIn(settingsOf(state)));
      return isDrawnAlike(state, set) ? to({ pick: null, set }) : { coming: { set, pick: null } };
    }
    case 'pin':
      return to({ a: state.pinned ? null : JSON.stringify(state.applied) });
    case 'go on':
      return to({
        a: null,
        ...(action.with === 'A' && state.pinned ? { pick: addressOfPicks(state.pinned, state.opens) } : {}),
      });
    case 'open tab':
      return to({ tab: action.tab });
    case 'enlarge':
      return to({ large: action.tile });
    case 'arrange':
      return { isArranging: action.isOn };
    case 'wire':
      return { isWired: action.isOn ?? !state.isWired };
    case 'about':
      return { isAbout: action.isOn };
    case 'explain':
      return { explained: action.tile };
    case 'list rows':
      return { listed: action.tile };
    case 'remark':
      return { remarked: action.what };
    case 'take along':
      return { taken: action.what };
    case 'name tab':
      return { naming: action.naming };
    case 'edit':
      // Asked for by what named it. The answer to an edit from before never takes away what is being named now.
      return { naming: undefined };
    case 'check':
      return { check: { isOn: action.isOn, checked: 0, differences: [] } };
    default:
      return outcome(state, action);
  }
}

/** What becomes of questions to the service. */
function outcome(state: PageState, action: Action): Partial<Given> {
  const { named } = wiringOf(state.page);
  switch (action.type) {
    case 'in rhythm':
      return { rhythmSince: action.since };
    case 'asking':
      return {
        tiles: {
          ...state.tiles,
          ...Object.fromEntries(
            Object.entries(action.keys).map(([name, key]) => [
              name,
              {
                ...state.tiles[name],
                key,
                runningSince: action.since,
                isReread: state.tiles[name]?.key === key && state.tiles[name]?.runningSince === undefined,
              },
            ]),
          ),
        },
      };
    case 'answered': {
      const { result, key, of } = action;
      const tile = named.get(result.tile);
      // The page may have answered it meanwhile, for a newer state.
      const { runningSince: _, isReread, ...before } = state.tiles[result.tile] ?? {};
      if (before.key !== key) return {};
      // What the source does not read anew for now stands as it was read before.
      if (result.problem?.code === 'source-paced' && isReread && before.result?.table) {
        const note = [result.problem.detail, result.problem.remedy].filter(Boolean).join(' ');
        return { tiles: { ...state.tiles, [result.tile]: { ...before, result: { ...before.result, note } } } };
      }
      const answer = { result, key, of };
      return {
        tiles: { ...state.tiles, [result.tile]: answer },
        names: tile ? together(state.names, ofResult(tile, answer)) : state.names,
      };
    }
    case 'unanswered':
      return {
        tiles: {
          ...state.tiles,
          ...Object.fromEntries(
            awaited(state).map((name) => {
              const { runningSince: _, ...before } = state.tiles[name] ?? {};
              return [name, { ...before, failure: action.failure }];
            }),
          ),
        },
      };
    case 'compared':
      return { compared: action.isNew ? action.states : { ...state.compared, ...action.states } };
    case 'cells':
      return { cells: withCells(state.cells, action.driver, action.followers, action.isWhole) };
    case 'forget cells':
      return { cells: {} };
    case 'was checked':
      return {
        check: {
          isOn: state.check.isOn,
          checked: state.check.checked + action.count,
          differences: [...state.check.differences, ...action.differences],
        },
        tiles: {
          ...state.tiles,
          ...Object.fromEntries(action.tiles.map((t) => [t, { ...state.tiles[t], isFolded: false }])),
        },
      };
    case 'not checked':
      return { check: { ...state.check, problem: action.problem } };
    case 'opened':
      return { opening: action.opening, openingProblem: undefined };
    case 'not opened':
      return { openingProblem: action.problem };
    case 'retry opening':
      return { openingProblem: undefined };
    case 'link checked':
      return { checked: action.checked, isLinkUnchecked: action.checked === undefined };
    case 'drawn':
      return withDrawing(state, action.set, action.page);
    case 'not drawn':
      return state.coming?.set === action.set ? { coming: undefined, drawProblem: action.problem } : {};
    case 'saving':
      return { saving: { ...state.saving, waiting: action.waiting, isHeld: action.isHeld } };
    case 'edited':
      return {
        published: action.page,
        viewProblem: undefined,
        saving: { ...state.saving, hasSaved: true },
      };
    case 'columns stored':
      // What was said since then waits for its own answer.
      return state.tables[action.tile] === action.table ? { tables: withOf(state.tables, action.tile, undefined) } : {};
    case 'not edited':
      return { viewProblem: action.problem };
    default:
      return {};
  }
}

/** True if the page as it stands is drawn as it would be with other parameters. */
const isDrawnAlike = ({ address, own, page }: PageState, set: string | null): boolean =>
  presentOf(set ?? own?.set ?? null, page) === presentOf(address.set ?? own?.set ?? null, page);

/** What is set, as the viewer has it before them. */
const settingsOf = (state: PageState) => readSettings(settingsText(state));

/** Sets parameters. Where they change how tiles are drawn, the page has to come first. */
function withSettings(state: PageState, said: string | null): Partial<Given> {
  const kept = state.own?.set ?? null;
  // What the dashboard opens with needs no word in the address.
  const set = kept ? (said === kept ? null : (said ?? '{}')) : said;
  if (state.coming || !isDrawnAlike(state, set)) return { coming: { set }, drawProblem: undefined };
  if (state.page.appliesOnButton) return { draftSet: set === state.address.set ? undefined : set };
  return { address: { ...state.address, set } };
}

/** The page drawn as parameters have it; picks that no longer fit it go. */
function withDrawing(state: PageState, set: string | null, page: DashboardPage): Partial<Given> {
  if (state.coming?.set !== set) return {};
  const left = fitting(state.selections, state.page, page);
  const fits = left === state.selections ? state.address.pick : addressOfPicks(left, state.opens);
  const pick = state.coming.pick === undefined ? fits : state.coming.pick;
  const { named } = wiringOf(state.page);
  const gone = Object.keys(state.selections).filter((t) => !(t in left));
  const letGo =
    state.coming.pick === undefined && gone.length > 0
      ? `What was picked on ${gone.map((t) => named.get(t)?.title ?? t).join(', ')} no longer fits and was let go.`
      : undefined;
  return { published: page, coming: undefined, letGo, address: { ...state.address, set, pick } };
}

/** All that follows from what is given; what says the same as before is the same object, so that nothing is drawn anew for it. */
function follow(given: Given, before?: PageState): PageState {
  const kept = given.own?.set ?? null;
  const wasSet = before && (before.address.set ?? before.own?.set ?? null);
  const text = given.address.set ?? kept;
  const next: Given = { ...given };
  // The address has caught up with what was in the hand.
  if (before && before.address.pick !== given.address.pick) next.live = next.draft = undefined;
  if (before && wasSet !== text) next.draftSet = undefined;

  next.names = namesOf(next, before);
  const isSamePage = before && before.published === next.published && before.names === next.names;
  const page = isSamePage ? before.page : withNames(next.published, next.names);
  const seen = page.tabs.filter((t) => !t.hidden);
  const tab = seen.find((t) => t.name === next.address.tab) ?? seen[0];
  const isSameTab = before && before.tab === tab && before.page === page && before.folds === next.folds;
  const isSameSet = before && isSamePage && wasSet === text;
  // How tiles are drawn comes from the page as it was fetched; it may be a moment behind the address.
  const set = isSameSet
    ? before.set
    : held(before?.set ?? {}, effectiveSettings(readSettings(text), page.parameters, page.drawings));
  const picks = picksOf(next, page, before);
  return {
    ...next,
    ...picks,
    address: corrected(next.address, next),
    page,
    tab,
    shown: isSameTab
      ? before.shown
      : (tab?.tiles ?? []).filter((t) => !t.hidden && !(tab && t.section && isFolded(next.folds, tab, t.section))),
    set,
    data: isSameSet
      ? before.data
      : held(
          before?.data ?? {},
          knownSettings(
            set,
            next.published.parameters.filter((p) => !p.presents),
          ),
        ),
  };
}

/** The names that came with how the page opened, beside those of its answers. */
function namesOf(given: Given, before?: PageState): Names {
  const isTold =
    before &&
    before.opening === given.opening &&
    before.own === given.own &&
    before.checked === given.checked &&
    before.published === given.published;
  if (isTold) return given.names;
  let names = given.names;
  const told: ToldNames[] = [given.own?.names, given.opening?.names, ...(given.checked?.names ?? [])];
  for (const tile of wiringOf(given.published).tiles)
    for (const answer of told)
      for (const [field, known] of Object.entries(answer?.[tile.name] ?? {}))
        names = together(names, { [nameKey(tile, field)]: known });
  return names;
}
