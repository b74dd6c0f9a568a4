import { api, unwrap, type Value, zone } from '../api/client';
import type { Settings } from './parameters';
import { asked, type Selections } from './selections';

/** Members of a control that contain a piece of text, and how many do. */
export interface Found {
  members: Value[];
  lines: number;
  /** The names of those that are codes or keys, by their values as text. */
  names: Record<string, string> | null;
}

/** Looks at the service for the members of a control that has more of them than it was sent. */
export async function findMembers(
  dashboard: string,
  tile: string,
  search: string,
  selections: Selections,
  set: Settings,
  signal: AbortSignal,
): Promise<Found> {
  const answer = await unwrap(
    api.POST('/api/dashboards/{dashboard}/tiles/{tile}/members', {
      params: { path: { dashboard, tile } },
      body: {
        search,
        selections: asked(selections),
        inputs: { parameters: set, zone },
      },
      signal,
    }),
  );
  return { members: answer.members, lines: answer.lines, names: answer.names ?? null };
}
