import { lazy, Suspense, useState } from 'react';
import type { Schemas } from '../api/client';
import { Difference } from './Difference';
import { LinesOrPictures } from './LinesOrPictures';

const ChangedTiles = lazy(() => import('./ChangedTiles'));

/** What a draft changes: a dashboard that is there already in pictures too, anything else line by line. */
export function Changes({ dashboard, draft }: { dashboard: string | undefined; draft: Schemas['DraftAnswer'] }) {
  const [way, setWay] = useState('text');
  const text = <Difference before={draft.published ?? ''} after={draft.text} label="What changes" />;
  if (dashboard === undefined || draft.published === null) return text;
  return (
    <>
      <LinesOrPictures value={way} onChange={setWay} />
      {way === 'text' ? (
        text
      ) : (
        <Suspense>
          <ChangedTiles dashboard={dashboard} step={draft.step} />
        </Suspense>
      )}
    </>
  );
}
