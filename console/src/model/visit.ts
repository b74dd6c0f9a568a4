/** Where the state of a dashboard stands while the visit lasts: in this window, until it is closed or somebody signs out. */
export const visitKey = (dashboard: string) => `weir visit ${dashboard}`;

/** The address of a dashboard as it was left: whoever comes back from the list finds what they picked. */
export function addressOf(dashboard: string): string {
  const left = sessionStorage.getItem(visitKey(dashboard));
  return `/d/${dashboard}${left ? `?${left}` : ''}`;
}
