/** How a dashboard is shown on a wall. */
export interface OnWall {
  /** After how many seconds the next tab is opened; null to stay on one. */
  round: number | null;
  /** After how many seconds all is read anew. */
  refresh: number;
}

const least = 5;

/** What an address says of a wall: ?wall stays on a tab, ?wall=20 goes round the tabs; &refresh=30 reads anew. Undefined if it is for none. */
export function readWall(query: URLSearchParams): OnWall | undefined {
  const wall = query.get('wall');
  if (wall === null) return undefined;
  const seconds = (text: string | null) => (/^\d{1,5}$/.test(text ?? '') ? Math.max(least, Number(text)) : undefined);
  return { round: seconds(wall) ?? null, refresh: seconds(query.get('refresh')) ?? 60 };
}
