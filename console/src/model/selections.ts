import type { DashboardPage, FieldInfo, FormatInfo, Schemas, TileInfo, Value } from '../api/client';
import { allOthers, label, writeNumber } from './labels';

/** A member: a value for every field that the tile is grouped by. */
export type Member = Value[];

/** A range of dates, start included and end excluded, or of numbers, both included. A missing end is open. */
export interface PickedRange {
  from: string | number | null;
  to: string | number | null;
  /** True for a range of numbers that its end is no part of. */
  below?: boolean;
}

/** What is picked on one tile. */
export interface Selection {
  members: Member[];
  /** If the rest of a top N is picked: the members that were shown, which the rest is not. */
  restOf?: Member[];
  /** All but what is picked. */
  exclude?: boolean;
  range?: PickedRange;
  /** Of a range or period on a tile that is drawn for each member of a field: the members in whose pictures it lies, if not in all. */
  each?: Value[];
  /** A period that is worked out at the time of viewing, such as "last 30 days". */
  period?: string;
  /** A piece of text that members contain. */
  contains?: string;
  /** The members that were opened on the way down the tile's hierarchy. */
  path?: Value[];
  /** What was picked at each level above; it comes back with the level. Only the page knows it. */
  kept?: (Selection | null)[];
}

/** What is picked on each tile by name. */
export type Selections = Record<string, Selection>;

export const sameMember = (a: Member, b: Member): boolean => a.length === b.length && a.every((v, i) => v === b[i]);

/** An instant or day as an instant, so that both compare as texts. */
export const instant = (text: string): string => (text.length === 10 ? `${text}T00:00:00` : text);

/** A test of whether values lie in a range, for many of them. */
export function within({ from, to, below }: PickedRange): (value: Value | undefined) => boolean {
  const [low, high] = [from === null ? null : instant(String(from)), to === null ? null : instant(String(to))];
  return (value) => {
    if (value === null || value === undefined) return false;
    if (typeof value === 'number')
      return (
        (from === null || value >= Number(from)) && (to === null || (below ? value < Number(to) : value <= Number(to)))
      );
    const at = instant(String(value));
    return (low === null || at >= low) && (high === null || at < high);
  };
}

/** True if a value lies in a range. */
export const isWithin = (range: PickedRange, value: Value | undefined): boolean => within(range)(value);

/** True if something is picked, whatever level is open. */
export const hasPick = (selection: Selection | undefined): boolean =>
  selection !== undefined &&
  (selection.members.length > 0 ||
    selection.restOf !== undefined ||
    selection.range !== undefined ||
    selection.period !== undefined ||
    selection.contains !== undefined);

/** Members as texts. A list of members is never changed, only replaced by another. */
const keys = new WeakMap<Member[], Set<string>>();

/** True if a member is one of these: of many found by its text, so that a thousand are not compared with a thousand. */
function isAmong(members: Member[], member: Member): boolean {
  if (members.length < 10) return members.some((m) => sameMember(m, member));
  const known = keys.get(members) ?? new Set(members.map((m) => JSON.stringify(m)));
  keys.set(members, known);
  return known.has(JSON.stringify(member));
}

/** True if the member is among those picked, or, where all but these are meant, is not. */
export function isPicked(selection: Selection | undefined, member: Member): boolean {
  if (!selection || !hasPick(selection)) return false;
  const isIn =
    isAmong(selection.members, member) ||
    (selection.range !== undefined && isWithin(selection.range, member[0]) && liesIn(selection, member.at(-1) ?? null));
  return isIn !== (selection.exclude ?? false);
}

/** True if a range lies in the picture of a member, of a tile that is drawn for each. */
export const liesIn = ({ each }: Selection, member: Value): boolean => each === undefined || each.includes(member);

/** True if the rest of a top N is among what is picked. */
export const isRestPicked = (selection: Selection | undefined): boolean =>
  hasPick(selection) && (selection?.restOf !== undefined) !== (selection?.exclude ?? false);

/** A click on a member: picks it, or lets it go. With "one" another pick takes its place, and so it does a range. */
export function toggle(selection: Selection | undefined, member: Member, pick: string): Selection | undefined {
  const members = selection?.members ?? [];
  const without = members.filter((m) => !sameMember(m, member));
  const { range: _, period: __, each: ___, ...others } = selection ?? { members: [] };
  return tidy({
    ...others,
    members: without.length < members.length ? without : pick === 'one' ? [member] : [...members, member],
    ...(pick === 'one' ? { restOf: undefined } : {}),
  });
}

/** A click on what stands for several members: all of them, or none where all were picked. */
export function toggleAll(selection: Selection | undefined, members: Member[]): Selection | undefined {
  const picked = selection?.members ?? [];
  const others = picked.filter((p) => !isAmong(members, p));
  const { range: _, period: __, each: ___, ...rest } = selection ?? { members: [] };
  const isAll = picked.length - others.length === members.length;
  return tidy({ ...rest, members: isAll ? others : [...others, ...members] });
}

/** A click on the rest of a top N. */
export function toggleRest(selection: Selection | undefined, shown: Member[], pick: string): Selection | undefined {
  if (selection?.restOf) return tidy({ ...selection, restOf: undefined });
  return tidy({ ...selection, members: pick === 'one' ? [] : (selection?.members ?? []), restOf: shown });
}

/**
 * A drawn or typed range in place of what was picked; undefined to let it go.
 * @param each On a tile that is drawn for each member of a field: those in whose pictures it lies, if not in all.
 */
export const withRange = (
  selection: Selection | undefined,
  range: PickedRange | undefined,
  each?: Value[],
): Selection | undefined => tidy({ ...selection, members: [], restOf: undefined, period: undefined, range, each });

/** The same pick, meaning all but these, or these again. */
export const inverted = (selection: Selection): Selection | undefined =>
  tidy({ ...selection, exclude: !selection.exclude });

/** Opens the next level below a member. What is picked here is kept for the way back. */
export function open(selection: Selection | undefined, member: Value): Selection {
  const { path = [], kept = [], ...picked } = selection ?? { members: [] };
  return { members: [], path: [...path, member], kept: [...kept, hasPick(selection) ? picked : null] };
}

/** Back to a level, by how many steps of the path stay; its own picks come back with it. */
export function back(selection: Selection, steps: number): Selection | undefined {
  const { path = [], kept = [] } = selection;
  return tidy({
    ...(kept[steps] ?? { members: [] }),
    path: path.slice(0, steps),
    kept: kept.slice(0, steps),
  });
}

/** Without the parts that say nothing; undefined if none is left. */
function tidy(selection: Selection): Selection | undefined {
  const { members, restOf, exclude, range, period, each, contains, path, kept } = selection;
  const isOpen = path !== undefined && path.length > 0;
  if (!hasPick(selection) && !isOpen) return undefined;
  return {
    members,
    ...(restOf ? { restOf } : {}),
    ...(exclude && hasPick(selection) ? { exclude } : {}),
    ...(range ? { range } : {}),
    ...(period !== undefined ? { period } : {}),
    ...(each && (range || period !== undefined) ? { each } : {}),
    ...(contains !== undefined ? { contains } : {}),
    ...(isOpen ? { path, kept } : {}),
  };
}

/** Selections as the service writes them; what they do not have is left out. */
export const ofService = (selections: Record<string, Schemas['PickedMembers']>): Selections =>
  Object.fromEntries(
    Object.entries(selections).map(([tile, s]) => [
      tile,
      {
        members: s.members,
        ...(s.restOf ? { restOf: s.restOf } : {}),
        ...(s.exclude ? { exclude: true } : {}),
        ...(s.range
          ? { range: { from: endOf(s.range.from), to: endOf(s.range.to), ...(s.range.below ? { below: true } : {}) } }
          : {}),
        ...(s.period ? { period: s.period } : {}),
        ...(s.each ? { each: s.each } : {}),
        ...(s.contains ? { contains: s.contains } : {}),
        ...(s.path && s.path.length > 0 ? { path: s.path } : {}),
      },
    ]),
  );

const endOf = (value: Value): string | number | null => (typeof value === 'boolean' ? null : value);

/** The selections of an address; what can't be read is left out. */
export function readSelections(text: string | null): Selections {
  if (!text) return {};
  try {
    const read = JSON.parse(text) as unknown;
    if (typeof read !== 'object' || read === null || Array.isArray(read)) return {};
    const entries = Object.entries(read as Record<string, Partial<Selection> | null>).flatMap(([name, s]) => {
      if (!s || typeof s !== 'object') return [];
      const members = s.members ?? [];
      if (!Array.isArray(members) || !members.every(Array.isArray)) return [];
      if ([s.path, s.each].some((part) => part !== undefined && !Array.isArray(part))) return [];
      const tidied = tidy({ ...s, members, kept: Array.isArray(s.kept) ? s.kept : s.path?.map(() => null) });
      return tidied ? [[name, tidied] as const] : [];
    });
    return Object.fromEntries(entries);
  } catch {
    return {};
  }
}

/** The selections as they stand in the address; null if there are none. */
export function writeSelections(selections: Selections): string | null {
  return Object.keys(selections).length === 0 ? null : JSON.stringify(selections);
}

/** The selections as the service takes them: without what only the page knows. */
export const asked = (selections: Selections): Record<string, Omit<Selection, 'kept'>> =>
  Object.fromEntries(Object.entries(selections).map(([name, { kept: _, ...selection }]) => [name, selection]));

/** Splits selections into those on tiles that are there and the names of the others. */
export function known(selections: Selections, page: DashboardPage): { selections: Selections; dropped: number } {
  const tiles = new Map(page.tabs.flatMap((t) => t.tiles).map((t) => [t.name, t]));
  const kept = Object.entries(selections).filter(([name, s]) => {
    const tile = tiles.get(name);
    return (
      tile !== undefined &&
      (tile.pick !== 'none' || !hasPick(s)) &&
      (s.path?.length ?? 0) < Math.max(1, tile.levels.length)
    );
  });
  return { selections: Object.fromEntries(kept), dropped: Object.keys(selections).length - kept.length };
}

/** What a tile is drawn of: where it stays the same, so does what its figures and its selection mean. */
export const drawnAs = (tile: TileInfo): string =>
  JSON.stringify([
    tile.picture,
    tile.show.map((m) => m.name),
    tile.by.map((f) => f.name),
    tile.levels.map((f) => f.name),
    tile.cut,
  ]);

/** The selections that still fit after tiles came to be drawn by other fields: a range of the same date does, a member of another field does not. */
export function fitting(selections: Selections, before: DashboardPage, after: DashboardPage): Selections {
  const of = (page: DashboardPage) => new Map(page.tabs.flatMap((t) => t.tiles).map((t) => [t.name, t]));
  const [was, is] = [of(before), of(after)];
  const fits = ([name, s]: [string, Selection]) => {
    const [a, b] = [was.get(name), is.get(name)];
    if (!a || !b) return false;
    const names = (t: TileInfo) => t.levels.concat(t.by).map((f) => f.name);
    if (names(a).join() === names(b).join()) return true;
    const field = (t: TileInfo) => t.by[0]?.name.split('.')[0];
    const each = (t: TileInfo) => (t.repeats ? t.by.at(-1)?.name : undefined);
    const isSame = field(a) === field(b) && each(a) === each(b) && a.pick === b.pick;
    return s.members.length === 0 && !s.restOf && !s.path && isSame;
  };
  const entries = Object.entries(selections);
  return entries.every(fits) ? selections : Object.fromEntries(entries.filter(fits));
}

/** Whether a selection on one tile may filter another. Fields without a counterpart are for the service to find out. */
export function mayFilter(
  driver: TileInfo,
  follower: TileInfo,
  tabOf: (tile: string) => string,
  groups: Map<string, { drives: string; drivesTiles: string[] }> = new Map(),
): boolean {
  if (driver.name === follower.name || follower.follows === 'none') return false;
  if (follower.follows === 'list' && !follower.followsTiles.includes(driver.name)) return false;
  if (driver.drives === 'none') return false;
  const isInGroup = driver.group !== null && driver.group !== undefined && driver.group === follower.group;
  const reaches = (drives: string, tiles: string[]) =>
    drives === 'list'
      ? tiles.includes(follower.name)
      : drives === 'dashboard' ||
        (drives === 'tab' && tabOf(driver.name) === tabOf(follower.name)) ||
        (drives === 'group' && isInGroup);
  if (reaches(driver.drives, driver.drivesTiles)) return true;
  const group = driver.group ? groups.get(driver.group) : undefined;
  return group !== undefined && !isInGroup && reaches(group.drives, group.drivesTiles);
}

/** The fields that what is picked is of: those of the level that is open, without that of the pictures where a range lies in all of them. */
export const fieldsOf = (tile: TileInfo, selection: Selection | undefined): FieldInfo[] => {
  const depth = selection?.path?.length ?? 0;
  const level = tile.levels[depth];
  if (depth > 0 && level) return [level];
  const isInAll = (selection?.range ?? selection?.period) !== undefined && !selection?.each;
  return tile.repeats && isInAll && selection?.members.length === 0 && !selection.restOf
    ? tile.by.slice(0, -1)
    : tile.by;
};

const asColumn = (field: FieldInfo) => ({
  role: 'group',
  kind: field.kind,
  at: field.at,
  format: null,
  names: field.names,
  pattern: field.pattern,
});

/** A member in words. */
export const memberLabel = (member: Member, fields: FieldInfo[]): string =>
  member.map((v, i) => (fields[i] ? label(v, asColumn(fields[i])) : String(v))).join(' · ');

const day = (text: string, less: number): string => {
  const at = new Date(`${text.slice(0, 10)}T00:00:00Z`);
  at.setUTCDate(at.getUTCDate() - less);
  return at.toISOString().slice(0, 10);
};

/**
 * A range in words, as the service writes it; of dates the last day that counts.
 * @param format How its numbers are written.
 */
export function rangeLabel(range: PickedRange, format?: FormatInfo | null): string {
  const write = (v: string | number, less = 0) => {
    if (typeof v === 'number') return format ? writeNumber(v, format) : v.toLocaleString('en-US').replace('-', '−');
    return instant(v).endsWith('T00:00:00')
      ? label(day(v, less), { role: 'group', kind: 'date', at: null, format: null })
      : label(v, { role: 'group', kind: 'timestamp', at: null, format: null });
  };
  const below = range.below ? 'below ' : '';
  if (range.from !== null && range.to !== null) return `${write(range.from)} to ${below}${write(range.to, 1)}`;
  if (range.from !== null) return `from ${write(range.from)}`;
  return range.to !== null ? `${below || 'up to '}${write(range.to, 1)}` : 'all';
}

/**
 * A selection in words, a piece for each member.
 * @param gone Members that have no rows now, as JSON texts.
 */
export function selectionLabels(selection: Selection, fields: FieldInfo[], gone?: Set<string>): string[] {
  const labels = selection.members.map(
    (m) => `${memberLabel(m, fields)}${gone?.has(JSON.stringify(m)) ? ' (no rows now)' : ''}`,
  );
  if (selection.restOf) labels.push(allOthers);
  const range = selection.period ?? (selection.range && rangeLabel(selection.range, fields[0]?.format));
  const [last] = fields.slice(-1);
  const each = last ? selection.each?.map((m) => memberLabel([m], [last])) : undefined;
  if (range !== undefined) labels.push(each ? `${range} · ${each.join(' or ')}` : range);
  if (selection.contains !== undefined) labels.push(`contains “${selection.contains}”`);
  return selection.exclude ? labels.map((l) => `not ${l}`) : labels;
}

/** The opened path of a tile in words. */
export const pathLabels = (tile: TileInfo, selection: Selection | undefined): string[] =>
  (selection?.path ?? []).map((v, i) => memberLabel([v], tile.levels[i] ? [tile.levels[i]] : []));
