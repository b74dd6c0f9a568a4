import type { DashboardPage, FieldInfo, TileInfo, Value } from '../api/client';
import { allOthers, label } from '../results/labels';

/** A member: a value for every field that the tile is grouped by. */
export type Member = Value[];

/** What is picked on one tile. */
export interface Selection {
  members: Member[];
  /** If the rest of a top N is picked: the members that were shown, which the rest is not. */
  restOf?: Member[];
}

/** What is picked on each tile by name. */
export type Selections = Record<string, Selection>;

export const sameMember = (a: Member, b: Member): boolean => a.length === b.length && a.every((v, i) => v === b[i]);

export const isPicked = (selection: Selection | undefined, member: Member): boolean =>
  selection?.members.some((m) => sameMember(m, member)) ?? false;

/** A click on a member: picks it, or lets it go. With "one" another pick takes its place. */
export function toggle(selection: Selection | undefined, member: Member, pick: string): Selection | undefined {
  const members = selection?.members ?? [];
  const without = members.filter((m) => !sameMember(m, member));
  const next =
    without.length < members.length
      ? { ...selection, members: without }
      : pick === 'one'
        ? { members: [member] }
        : { ...selection, members: [...members, member] };
  return tidy(next);
}

/** A click on the rest of a top N. */
export function toggleRest(selection: Selection | undefined, shown: Member[], pick: string): Selection | undefined {
  if (selection?.restOf) return tidy({ members: selection.members });
  return { members: pick === 'one' ? [] : (selection?.members ?? []), restOf: shown };
}

const tidy = (selection: Selection): Selection | undefined =>
  selection.members.length === 0 && !selection.restOf ? undefined : selection;

/** The selections of an address; what can't be read is left out. */
export function readSelections(text: string | null): Selections {
  if (!text) return {};
  try {
    const read = JSON.parse(text) as unknown;
    if (typeof read !== 'object' || read === null || Array.isArray(read)) return {};
    const entries = Object.entries(read as Record<string, Selection>).filter(
      ([, s]) => s && Array.isArray(s.members) && s.members.every(Array.isArray),
    );
    return Object.fromEntries(entries);
  } catch {
    return {};
  }
}

/** The selections as they stand in the address; null if there are none. */
export function writeSelections(selections: Selections): string | null {
  return Object.keys(selections).length === 0 ? null : JSON.stringify(selections);
}

/** Splits selections into those on tiles that are there and the names of the others. */
export function known(selections: Selections, page: DashboardPage): { selections: Selections; dropped: number } {
  const tiles = new Map(page.tabs.flatMap((t) => t.tiles).map((t) => [t.name, t]));
  const kept = Object.entries(selections).filter(([name]) => (tiles.get(name)?.pick ?? 'none') !== 'none');
  return { selections: Object.fromEntries(kept), dropped: Object.keys(selections).length - kept.length };
}

/** Whether a selection on one tile may filter another. Fields without a counterpart are for the service to find out. */
export function mayFilter(driver: TileInfo, follower: TileInfo, tabOf: (tile: string) => string): boolean {
  if (driver.name === follower.name || follower.follows === 'none') return false;
  if (follower.follows === 'list' && !follower.followsTiles.includes(driver.name)) return false;
  if (driver.drives === 'none') return false;
  if (driver.drives === 'list') return driver.drivesTiles.includes(follower.name);
  return driver.drives === 'dashboard' || tabOf(driver.name) === tabOf(follower.name);
}

const asColumn = (field: FieldInfo) => ({ role: 'group', kind: field.kind, at: field.at, format: null });

/** A member in words. */
export const memberLabel = (member: Member, fields: FieldInfo[]): string =>
  member.map((v, i) => (fields[i] ? label(v, asColumn(fields[i])) : String(v))).join(', ');

/** A selection in words, a piece for each member. */
export function selectionLabels(selection: Selection, fields: FieldInfo[]): string[] {
  const labels = selection.members.map((m) => memberLabel(m, fields));
  return selection.restOf ? [...labels, allOthers] : labels;
}
