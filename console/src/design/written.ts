import type { Schemas } from '../api/client';
import { nameFrom } from './starter';

export type Dataset = Schemas['DatasetInfo'];
export type Picture = Schemas['PictureInfo'];
export type TileKey = Schemas['DefinitionKeyInfo'];
export type Step = Schemas['DraftStep'];

/** A value as a text of a definition says it: every number and word is text. */
export type Said = string | Said[] | { [key: string]: Said };

/** A tile as the text says it, and where it stands. */
export interface WrittenTile {
  name: string;
  tab: string;
  says: { [key: string]: Said };
}

/** A measure or a field that is carried from the list of fields. */
export interface Carried {
  dataset: string;
  name: string;
  title: string;
  isMeasure: boolean;
}

export const isMap = (said: Said | undefined): said is { [key: string]: Said } =>
  typeof said === 'object' && !Array.isArray(said);

export const itemsOf = (said: Said | undefined): { [key: string]: Said }[] =>
  Array.isArray(said) ? said.filter(isMap) : [];

/** A word or number as text; undefined for what has parts. */
export const word = (said: Said | undefined): string | undefined => (typeof said === 'string' ? said : undefined);

/** The names under a key that takes one or a list. */
export const names = (said: Said | undefined): string[] =>
  typeof said === 'string'
    ? said === ''
      ? []
      : [said]
    : Array.isArray(said)
      ? said.filter((n): n is string => typeof n === 'string')
      : [];

export function tilesOf(said: Said | undefined): WrittenTile[] {
  return itemsOf(isMap(said) ? said.tabs : undefined).flatMap((tab) =>
    itemsOf(tab.tiles).map((says) => ({ name: word(says.tile) ?? '', tab: word(tab.tab) ?? '', says })),
  );
}

/** The place of a key of a tile. */
export const pathOf = (tile: WrittenTile, ...keys: string[]): string[] => [
  'tabs',
  tile.tab,
  'tiles',
  tile.name,
  ...keys,
];

/** Gives a key a value, or takes it out. */
export const put = (tile: WrittenTile, key: string, value: Said | number | boolean | undefined): Step =>
  value === undefined ? { do: 'remove', at: pathOf(tile, key) } : { do: 'set', at: pathOf(tile, key), value: value };

/** Gives a key a value, or takes it out if it is there. */
export const change = (tile: WrittenTile, key: string, value: Said | number | boolean | undefined): Step[] =>
  value === undefined && tile.says[key] === undefined ? [] : [put(tile, key, value)];

/** One name as a word, several as a list. */
export const oneOrMany = (list: string[]): Said | undefined =>
  list.length === 0 ? undefined : list.length === 1 ? (list[0] as string) : list;

/** The grains and the parts of a date, as formulas name them. */
export const grains = ['year', 'quarter', 'month', 'week', 'day', 'hour'];
export const parts = ['quarter_of_year', 'month_of_year', 'day_of_month', 'day_of_week', 'hour_of_day', 'year_number'];

export const isDate = (kind: string) => kind === 'date' || kind === 'timestamp';

/** The grains and parts that a field of a kind has. */
export const membersOf = (kind: string): string[] =>
  kind === 'timestamp'
    ? [...grains, ...parts]
    : kind === 'date'
      ? [...grains, ...parts].filter((g) => !g.startsWith('hour'))
      : [];

const inWords = (name: string) => name.replaceAll('_', ' ');

/** What a field is called, with its grain; its own name where the dataset does not have it. */
export function titleOf(dataset: Dataset | undefined, name: string): string {
  const measure = dataset?.measures.find((m) => m.name === name);
  if (measure) return measure.title;
  const [own = '', at] = name.split('.');
  const field = dataset?.fields.find((f) => f.name === own);
  if (!field) return name;
  return at ? `${field.title} by ${inWords(at)}` : field.title;
}

/** The type of a field's values at its grain; undefined where the dataset does not have it. */
export function kindOf(dataset: Dataset | undefined, name: string): string | undefined {
  const [own = '', at] = name.split('.');
  const field = dataset?.fields.find((f) => f.name === own);
  if (!field) return undefined;
  if (!at) return field.kind;
  return parts.includes(at) ? 'integer' : at === 'hour' ? 'timestamp' : 'date';
}

const article = (kind: string) => (/^[aeiou]/.test(kind) ? `an ${kind}` : `a ${kind}`);

const counted = (count: number, noun: string) => `${count} ${noun}${count === 1 ? '' : 's'}`;

/** Why a field can't be one that a picture is grouped by; undefined if it can. */
export function notBy(picture: Picture, dataset: Dataset | undefined, name: string): string | undefined {
  const kind = kindOf(dataset, name);
  const { kinds, orNamed, wanted } = picture.by;
  const isNamed = orNamed && dataset?.fields.find((f) => f.name === name)?.isNamed === true;
  if (picture.by.most === 0) return `${article(picture.name)} is by no field`;
  return kind === undefined || kinds.length === 0 || kinds.includes(kind) || isNamed
    ? undefined
    : `${article(picture.name)} is by ${wanted ?? kinds.join(' or ')}`;
}

/** A place of a tile where something that is carried can land, and what becomes of the tile then. */
export interface Landing {
  place: 'show' | 'by' | 'split';
  says: string;
  steps: Step[];
  /** Why it can't land there. */
  unfit?: string;
}

/** Where a measure or a field can land on a tile, and why not elsewhere. */
export function landings(
  tile: WrittenTile,
  picture: Picture,
  dataset: Dataset | undefined,
  carried: Carried,
): Landing[] {
  const own = word(tile.says.dataset);
  const isElsewhere = own !== undefined && own !== carried.dataset;
  const elsewhere = isElsewhere ? `the tile is over ${dataset?.title ?? own}` : undefined;
  const named = [...names(tile.says.show), ...names(tile.says.by), word(tile.says.split)];
  const there = named.includes(carried.name) ? 'it is there already' : undefined;
  const first: Step[] = own === undefined ? [put(tile, 'dataset', carried.dataset)] : [];
  const into = (place: 'show' | 'by', most: number, verb: string, unfit?: string): Landing => {
    const list = names(tile.says[place]);
    const isFull = list.length >= most;
    const last = list.at(-1);
    return {
      place,
      says:
        isFull && last !== undefined
          ? `${verb} ${carried.title} in place of ${titleOf(dataset, last)}`
          : `${verb} ${carried.title}${list.length > 0 ? ' too' : ''}`,
      steps: [
        ...first,
        put(tile, place, oneOrMany([...(isFull ? list.slice(0, -1) : list), carried.name]) as Said),
        // What it was ordered by is gone.
        ...(isFull && last !== undefined ? withoutSort(tile, last) : []),
      ],
      unfit: elsewhere ?? there ?? unfit ?? (most === 0 ? `${article(picture.name)} has no room for it` : undefined),
    };
  };
  // What is split shows one measure, unless each has a place of its own.
  const most =
    tile.says.split !== undefined && !picture.splitsSeveral ? Math.min(1, picture.show.most) : picture.show.most;
  if (carried.isMeasure) return [into('show', most, 'Show')];
  const split: Landing = {
    place: 'split',
    says: `Split by ${carried.title}${tile.says.split === undefined ? '' : ` in place of ${titleOf(dataset, word(tile.says.split) ?? '')}`}`,
    steps: [...first, put(tile, 'split', carried.name)],
    unfit:
      elsewhere ??
      there ??
      (!picture.canSplit
        ? `${article(picture.name)} is not split`
        : names(tile.says.show).length > 1 && !picture.splitsSeveral
          ? 'it shows several measures'
          : undefined),
  };
  return [into('by', picture.by.most, 'By', notBy(picture, dataset, carried.name)), split];
}

function withoutSort(tile: WrittenTile, name: string): Step[] {
  const sort = tile.says.sort;
  return isMap(sort) && sort.by === name ? [put(tile, 'sort', undefined)] : [];
}

/** Another list of measures or fields on a tile: what it was ordered by goes with what is taken away. */
export const relist = (tile: WrittenTile, key: 'show' | 'by', list: string[]): Step[] => [
  ...change(tile, key, oneOrMany(list)),
  ...names(tile.says[key])
    .filter((n) => !list.includes(n))
    .flatMap((n) => withoutSort(tile, n)),
];

/** What of a tile another kind of picture has no room for. */
export interface Change {
  steps: Step[];
  /** What would go, in words. */
  lost: string[];
  /** What is wanting then. */
  wanting?: string;
}

/** A tile as another kind of picture: what fits stays, what does not is named. */
export function asKind(
  tile: WrittenTile,
  from: Picture | undefined,
  to: Picture,
  dataset: Dataset | undefined,
): Change {
  const lost: string[] = [];
  const steps: Step[] = [put(tile, 'picture', to.name)];
  const says = { ...tile.says };
  const drop = (key: string, why: string) => {
    lost.push(why);
    steps.push(put(tile, key, undefined));
    delete says[key];
  };
  for (const [key, most] of [
    ['show', to.show.most],
    ['by', to.by.most],
  ] as const) {
    const list = names(says[key]);
    const fitting = (key === 'by' ? list.filter((n) => !notBy(to, dataset, n)) : list).slice(0, most);
    if (fitting.length === list.length) continue;
    const gone = list.filter((n) => !fitting.includes(n)).map((n) => titleOf(dataset, n));
    lost.push(`${key} ${gone.join(', ')}`);
    steps.push(...change(tile, key, oneOrMany(fitting)));
    says[key] = fitting;
  }
  if (says.split !== undefined && (!to.canSplit || (names(says.show).length > 1 && !to.splitsSeveral)))
    drop('split', `split by ${titleOf(dataset, word(says.split) ?? '')}`);
  const kept = new Set([...to.own.map((o) => o.name), ...to.ofMembers.map((o) => o.name)]);
  for (const key of [...(from?.own ?? []), ...(from?.ofMembers ?? [])].map((o) => o.name))
    if (says[key] !== undefined && !kept.has(key)) drop(key, inWords(key));
  const sort = says.sort;
  if (isMap(sort) && ![...names(says.show), ...names(says.by)].includes(word(sort.by) ?? '')) drop('sort', 'the order');
  if (says.pick !== undefined && (to.picksOneWay || !to.hasData)) drop('pick', 'how it is picked');
  if (says.place === 'panel' && !to.isControl) drop('place', 'its place in the side panel');
  const [show, by] = [names(says.show).length, names(says.by).length];
  const hasInstead = to.show.orKey != null && says[to.show.orKey] !== undefined;
  const needed = to.own.find((o) => o.isNeeded && says[o.name] === undefined);
  const wanting =
    show < to.show.least && !hasInstead
      ? `${article(to.name)} shows at least ${counted(to.show.least, 'measure')}`
      : by < to.by.least
        ? `${article(to.name)} is by at least ${counted(to.by.least, 'field')}`
        : needed
          ? `${article(to.name)} needs ${inWords(needed.name)}`
          : undefined;
  return { steps, lost, wanting };
}

/** What a tile says, as a sentence for the reader. */
export function sentenceOf(tile: WrittenTile, dataset: Dataset | undefined): string {
  const title = (n: string) => titleOf(dataset, n);
  const { says } = tile;
  if (says.shared !== undefined) return `The shared tile ${word(says.shared)}.`;
  const show = names(says.show).map(title);
  const by = names(says.by).map(title);
  const top = isMap(says.top) ? says.top : undefined;
  const sort = isMap(says.sort) ? says.sort : undefined;
  const drives = names(says.drives);
  return `${[
    `${inWords(word(says.picture) ?? 'a picture').replace(/^./, (c) => c.toUpperCase())}`,
    show.length > 0 && ` of ${show.join(' and ')}`,
    by.length > 0 && ` by ${by.join(' and ')}`,
    says.split !== undefined && `, split by ${title(word(says.split) ?? '')}`,
    top && `, the first ${word(top.count)}${top.rest === 'true' ? ' and the rest' : ''}`,
    sort && `, sorted by ${title(word(sort.by) ?? '')}${sort.order === 'descending' ? ', greatest first' : ''}`,
    drives.length > 0 && `, drives ${drives.join(', ')}`,
    names(says.follows).length > 0 && `, follows ${names(says.follows).join(', ')}`,
  ]
    .filter(Boolean)
    .join('')}.`;
}

/** A name that is none of those that are taken. */
export function freeName(taken: Iterable<string>, of: string): string {
  const all = new Set(taken);
  const stem = nameFrom(of).slice(0, 56) || 'part';
  if (!all.has(stem)) return stem;
  const root = stem.replace(/-\d+$/, '');
  let number = 2;
  while (all.has(`${root}-${number}`)) number++;
  return `${root}-${number}`;
}

/** A line of the wiring, as the service tells it. */
export type Wire = Schemas['WireInfo'];

/** True if what is picked on the one is meant to filter the other, whether or not their data have a field that links them. */
export const isWired = (wires: Wire[], driver: string, follower: string) =>
  wires.some((w) => w.driver === driver && w.follower === follower && (!w.reason || w.reason === 'NoCounterpart'));

/**
 * Draws a line of the wiring, or takes it away.
 * @returns Undefined where the text does not say what would have to change.
 */
export function rewired(tiles: WrittenTile[], wires: Wire[], from: string, to: string): Step[] | undefined {
  const [driver, follower] = [tiles.find((t) => t.name === from), tiles.find((t) => t.name === to)];
  if (!driver || !follower || driver === follower) return undefined;
  const isOn = isWired(wires, from, to);
  const group = word(driver.says.group);
  const ownGroup = group !== undefined && driver.says.drives === undefined;
  const inGroup = (name: string) => {
    const other = tiles.find((t) => t.name === name);
    return group !== undefined && word(other?.says.group) === group && other?.tab === driver.tab;
  };
  // What a group drives outside of it is said of the group.
  const isOfGroup = ownGroup && !inGroup(to);
  const now = [
    ...new Set(wires.filter((w) => w.driver === from && isWired(wires, from, w.follower)).map((w) => w.follower)),
  ];
  const own = isOfGroup ? now.filter((n) => !inGroup(n)) : now;
  const list = isOn ? own.filter((n) => n !== to) : [...own, to];
  const at = isOfGroup ? ['tabs', driver.tab, 'groups', group as string, 'drives'] : pathOf(driver, 'drives');
  const steps: Step[] = [];
  const refused = wires.find((w) => w.driver === from && w.follower === to)?.reason;
  // Where it is driven already, and only does not follow, that alone changes.
  if (isOn || (refused !== 'FollowsNone' && refused !== 'NotFollowed'))
    steps.push({ do: 'set', at, value: list.length === 0 ? 'none' : list });
  const follows = follower.says.follows;
  if (!isOn && follows !== undefined && follows !== 'all') {
    const followed = names(follows).filter((n) => n !== 'none');
    if (!followed.includes(from)) steps.push(put(follower, 'follows', [...followed, from]));
  }
  return steps;
}

/**
 * The steps that lay a group around tiles of one tab; around those that are a group already, they take it away.
 * @returns Undefined where there is nothing to group.
 */
export function grouped(
  said: Said | undefined,
  names: string[],
): { steps: Step[]; group: string; isGone: boolean } | undefined {
  const tiles = tilesOf(said).filter((t) => names.includes(t.name) && word(t.says.place) !== 'panel');
  const tab = tiles[0]?.tab;
  if (tab === undefined || tiles.some((t) => t.tab !== tab)) return undefined;
  const all = tilesOf(said).filter((t) => t.tab === tab);
  const groups = itemsOf(itemsOf((said as { tabs?: Said } | undefined)?.tabs).find((t) => word(t.tab) === tab)?.groups);
  const at = ['tabs', tab, 'groups'];
  const first = word(tiles[0]?.says.group);
  const isWhole =
    first !== undefined &&
    tiles.every((t) => word(t.says.group) === first) &&
    all.every((t) => word(t.says.group) !== first || names.includes(t.name));
  if (isWhole)
    return {
      group: first,
      isGone: true,
      steps: [
        ...tiles.map((t) => put(t, 'group', undefined)),
        groups.length > 1 ? { do: 'remove', at: [...at, first] } : { do: 'remove', at },
      ],
    };
  const group = freeName(
    groups.map((g) => word(g.group) ?? ''),
    'group',
  );
  // A group of which all tiles go into another one is left by itself, and would be a fault.
  const left = groups.filter((g) => {
    const members = all.filter((t) => word(t.says.group) === word(g.group));
    return members.length > 0 && members.every((t) => names.includes(t.name));
  });
  return {
    group,
    isGone: false,
    steps: [
      groups.length > 0 ? { do: 'insert', at, value: { group } } : { do: 'set', at, value: [{ group }] },
      ...tiles.map((t) => put(t, 'group', group)),
      ...left.map((g): Step => ({ do: 'remove', at: [...at, word(g.group) ?? ''] })),
    ],
  };
}
