import type { Designing } from '../../design/useDesign';
import { grouped, isWired, rewired, tilesOf, type Wire, word } from '../../design/written';
import type { Pair } from './useLine';

/**
 * Draws the line between two tiles in the text of the dashboard, or takes it away.
 * @param ask Asks how its tiles are wired by now: what is drawn may be of the step before.
 * @returns What came of it, in words; and true where the data have no field that carries the line. Undefined if nothing was stored.
 */
export async function link(
  design: Designing | undefined,
  ask: () => Promise<Wire[]>,
  { driver, follower }: Pair,
): Promise<{ said: string; isUnlinked: boolean } | undefined> {
  const fresh = await ask();
  const steps = design && rewired(tilesOf(design.said), fresh, driver, follower);
  if (!design || !steps) return { said: 'The text does not say what would have to change here.', isUnlinked: false };
  const wasOn = isWired(fresh, driver, follower);
  if (!(await design.take(steps))) return undefined;
  const now = (await ask()).find((w) => w.driver === driver && w.follower === follower);
  if (wasOn) return { said: `${driver} drives ${follower} no more.`, isUnlinked: false };
  if (now === undefined) return { said: `${driver} can’t be picked, and so drives nothing.`, isUnlinked: false };
  return {
    said: now.reason ? (now.sentence ?? '') : `${driver} drives ${follower}.`,
    isUnlinked: now.reason === 'NoCounterpart',
  };
}

/** Lays a group around tiles, or takes it away. @returns What came of it, in words; undefined if nothing was stored. */
export async function group(design: Designing | undefined, names: string[]): Promise<string | undefined> {
  const found = design && grouped(design.said, names);
  if (!found) return names.length > 0 ? 'What stands in the side panel belongs to no group.' : undefined;
  if (!(await design.take(found.steps))) return undefined;
  return found.isGone
    ? `The group ${found.group} is no more; its tiles stay.`
    : `${names.length === 1 ? 'One tile is' : `${names.length} tiles are`} the group ${found.group}: they drive one another, unless they say otherwise.`;
}

/** What a concept would have to link, for one tile to drive another. */
export function conceptOf({ driver, follower }: Pair, design: Designing | undefined) {
  const tiles = tilesOf(design?.said);
  const of = (name: string) => tiles.find((t) => t.name === name)?.says;
  const datasetOf = (name: string) => design?.datasets.find((d) => d.name === word(of(name)?.dataset));
  const by = of(driver)?.by;
  const field = (word(by) ?? (Array.isArray(by) ? word(by[0]) : undefined))?.split('.')[0];
  const [from, to] = [datasetOf(driver), datasetOf(follower)];
  return field !== undefined && from && to && from !== to ? { field, driver: from, follower: to } : undefined;
}
