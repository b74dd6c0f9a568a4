import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { api, type DashboardPage, unwrap, zone } from '../api/client';
import type { ToldNames } from '../model/names';
import { distinct, type Kept, leftOut } from '../model/opening';
import { readSettings, type Settings } from '../model/parameters';
import {
  asked,
  known,
  ofService,
  readSelections,
  type Selection,
  type Selections,
  writeSelections,
} from '../model/selections';

/** Changes parts of the address at once; null takes one away. */
export type ChangeAddress = (
  parts: Partial<Record<'tab' | 'pick' | 'set' | 'a' | 'large', string | null>>,
  replace?: boolean,
) => void;

/** What is picked on a page: in the address, or what the dashboard opens with. */
export interface Picked {
  /** As the viewer has it before them. */
  selections: Selections;
  /** As the tiles are filtered: behind the other where picks wait to be applied. */
  applied: Selections;
  /** The state that was pinned as A. */
  pinned?: Selections;
  /** False until it is known what the page begins with. */
  isReady: boolean;
  /** Why it could not be read what the dashboard opens with. */
  problem?: string;
  retry: () => void;
  /** What a link picked and this viewer has not: sentences without the values. */
  dropped: string[];
  /** The names of picked members that are codes or keys, as far as they came with how the page opened. */
  names: ToldNames[];
  /** @param live True while the hand still moves: shown at once, kept when it lets go. */
  select: (tile: string, selection: Selection | undefined, live?: boolean) => void;
  /** How selections stand in an address. */
  write: (selections: Selections) => string | null;
  /** The parameters as the viewer has them before them, as an address carries them. */
  set: string | null;
  /** True if no parameter is set otherwise than when the dashboard opens. */
  isSetAsOpened: boolean;
  /** Holds parameters back until they are applied. */
  hold: (set: string | null) => void;
  /** True if picks or parameters wait to be applied. */
  isWaiting: boolean;
  apply: () => void;
  discard: () => void;
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** The same picks, whichever was made first. */
const samePicks = (a: Selections, b: Selections) => same(Object.entries(a).sort(), Object.entries(b).sort());

/** The same parameters, as addresses carry them. */
const sameSettings = (a: string | null, b: string | null) =>
  same(Object.entries(readSettings(a)).sort(), Object.entries(readSettings(b)).sort());

/** The same object as long as it says the same, so that nothing is drawn anew for it. */
function useSame<T>(value: T): T {
  const held = useRef(value);
  if (!same(held.current, value)) held.current = value;
  return held.current;
}

export function useSelections(
  page: DashboardPage,
  address: URLSearchParams,
  set: Settings,
  change: ChangeAddress,
  mine: Kept | undefined,
): Picked {
  const pick = address.get('pick');
  const pin = address.get('a');
  const [live, setLive] = useState<Selections>();
  const [draft, setDraft] = useState<Selections>();
  const [draftSet, setDraftSet] = useState<string | null>();

  const beginning = useCallback(
    async (selections: Selections | undefined) =>
      unwrap(
        api.POST('/api/dashboards/{dashboard}/opening', {
          params: { path: { dashboard: page.name } },
          body: {
            selections: selections === undefined ? null : asked(selections),
            inputs: { parameters: set, zone },
          },
        }),
      ),
    [page.name, set],
  );
  // What the page writes itself it has from what the viewer sees. Only what a link brought is held against their rights.
  const came = useRef({ pick, pin });
  const brought = useQuery({
    queryKey: ['brought', page.name, page.version, came.current],
    enabled: came.current.pick !== null || came.current.pin !== null,
    queryFn: async () => {
      const raw = [came.current.pick, came.current.pin].map((text) =>
        text === null ? undefined : known(readSelections(text), page),
      );
      const [a, b] = await Promise.all(raw.map((r) => (r ? beginning(r.selections) : undefined)));
      const missing = raw.reduce((n, r) => n + (r?.dropped ?? 0), 0);
      const left = [...(a?.dropped ?? []), ...(b?.dropped ?? [])];
      const merged = (checked: typeof a, own: (typeof raw)[number]): Selections =>
        Object.fromEntries(
          Object.entries(ofService(checked?.selections ?? {})).map(([name, s]) => {
            const kept = own?.selections[name]?.kept;
            return [name, kept ? { ...s, kept } : s];
          }),
        );
      return {
        pick: merged(a, raw[0]),
        pin: merged(b, raw[1]),
        names: [a?.names, b?.names],
        dropped: distinct([
          ...(missing > 0
            ? [
                `${missing === 1 ? 'One selection' : `${missing} selections`} of this link ${missing === 1 ? 'was' : 'were'} left out: the tile is not here or not yours.`,
              ]
            : []),
          ...leftOut(left),
        ]),
      };
    },
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const opening = useQuery({
    queryKey: ['opening', page.name, page.version, set],
    enabled: page.hasOpening && !mine,
    queryFn: () => beginning(undefined),
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });

  const opens = useSame(mine?.selections ?? (opening.data && ofService(opening.data.selections)) ?? {});
  const names = useSame([mine?.names, opening.data?.names, ...(brought.data?.names ?? [])]);
  // What must be picked is, also where an address leaves it out; the service takes it so too.
  const complete = (picks: Selections): Selections => {
    const missing = page.tabs
      .flatMap((t) => t.tiles)
      .flatMap((t) => (t.isRequired && !picks[t.name] && opens[t.name] ? [[t.name, opens[t.name] as Selection]] : []));
    return missing.length === 0 ? picks : { ...picks, ...(Object.fromEntries(missing) as Selections) };
  };
  const readLink = (text: string, checked: Selections | undefined) =>
    // Without an answer it stays as it is: what the viewer may not see brings no rows in any case.
    checked ?? known(readSelections(text), page).selections;
  const isBrought = (text: string | null, which: 'pick' | 'pin') => text !== null && text === came.current[which];
  const kept =
    pick === null ? opens : complete(readLink(pick, isBrought(pick, 'pick') ? brought.data?.pick : undefined));
  const applied = useSame((page.appliesOnButton ? undefined : live) ?? kept);
  const selections = useSame(live ?? draft ?? kept);
  const pinned = useSame(
    pin === null ? undefined : complete(readLink(pin, isBrought(pin, 'pin') ? brought.data?.pin : undefined)),
  );
  const waits =
    ((isBrought(pick, 'pick') || isBrought(pin, 'pin')) && brought.isLoading) ||
    (pick === null && page.hasOpening && !mine && opening.isLoading);

  const write = useCallback(
    (next: Selections) => (samePicks(next, opens) ? null : (writeSelections(next) ?? '{}')),
    [opens],
  );
  const left = useMemo(() => brought.data?.dropped ?? [], [brought.data]);
  const cleaned = brought.data && (writeSelections(brought.data.pick) ?? '{}');
  const cleanedPin = brought.data && JSON.stringify(brought.data.pin);
  // An address that tells values which the viewer may not see is put right.
  useEffect(() => {
    if (left.length === 0 || cleaned === undefined) return;
    const parts: Parameters<ChangeAddress>[0] = {};
    if (isBrought(pick, 'pick') && pick !== cleaned) parts.pick = cleaned;
    if (isBrought(pin, 'pin') && pin !== cleanedPin) parts.a = cleanedPin ?? null;
    if (Object.keys(parts).length > 0) change(parts, true);
  });

  const select = useCallback(
    (tile: string, selection: Selection | undefined, isLive = false) => {
      const { [tile]: _, ...others } = selections;
      // Where something must be picked, letting go leads back to what the dashboard opens with.
      const required = page.tabs.some((t) => t.tiles.some((x) => x.name === tile && x.isRequired));
      const wanted = selection ?? (required ? opens[tile] : undefined);
      const next = wanted ? { ...others, [tile]: wanted } : others;
      if (page.appliesOnButton) {
        setDraft(samePicks(next, kept) ? undefined : next);
        return;
      }
      // At once, for the next key or click builds upon it; the address follows, and then it is the one that counts.
      setLive(next);
      if (!isLive) change({ pick: write(next) });
    },
    [selections, kept, opens, page, change, write],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: the address has caught up
  useEffect(() => {
    setLive(undefined);
    setDraft(undefined);
  }, [pick]);
  const written = address.get('set') ?? mine?.set ?? null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the address has caught up
  useEffect(() => setDraftSet(undefined), [written]);

  return {
    selections,
    applied,
    pinned,
    isReady: !waits,
    problem: opening.error?.message,
    retry: () => void opening.refetch(),
    // Told until the viewer goes on to another state.
    dropped:
      pick === null && mine
        ? mine.dropped
        : isBrought(pick, 'pick') || pick === cleaned || isBrought(pin, 'pin') || pin === cleanedPin
          ? left
          : [],
    names,
    select,
    write,
    set: draftSet === undefined ? written : draftSet,
    isSetAsOpened: sameSettings(written, mine?.set ?? null),
    hold: (next) => setDraftSet(next === written ? undefined : next),
    isWaiting: draft !== undefined || draftSet !== undefined,
    apply: () =>
      change({ ...(draft ? { pick: write(draft) } : {}), ...(draftSet === undefined ? {} : { set: draftSet }) }),
    discard: () => {
      setDraft(undefined);
      setDraftSet(undefined);
    },
  };
}
