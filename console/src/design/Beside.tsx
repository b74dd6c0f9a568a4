import { useEffect, useState } from 'react';

/** What of a published version did not come into the folder that the team keeps its definitions in; mostly nothing. */
export const Beside = ({ told }: { told: string[] | null | undefined }) =>
  told?.map((sentence) => (
    <p key={sentence} role="status">
      {sentence}
    </p>
  ));

const key = 'weir-beside';

/** Keeps it for the page that is loaded next: what is given another name is not there any more under the one that this page has. */
export function keepBeside(told: string[] | null | undefined) {
  if (told?.length) sessionStorage.setItem(key, JSON.stringify(told));
}

/** What was kept for this page; it is told once. */
export function KeptBeside() {
  const [told] = useState(() => JSON.parse(sessionStorage.getItem(key) ?? '[]') as string[]);
  useEffect(() => sessionStorage.removeItem(key), []);
  return <Beside told={told} />;
}
