import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useState } from 'react';
import { api, unwrap } from '../api/client';
import { askedPage, onDraft, pageBeside, stepsOf } from '../api/draft';
import { pageQuery } from '../dashboard/pageQuery';
import { type Draft, DraftInHand, type DraftKind, type Kept, type Problem, type SaveState } from './draftInHand';

function keptAt(kind: DraftKind, name: string): Kept {
  const path = { params: { path: { kind, name } } };
  return {
    read: () => unwrap(api.GET('/api/drafts/{kind}/{name}', path)),
    save: (body) => unwrap(api.PUT('/api/drafts/{kind}/{name}', { ...path, body })),
  };
}

/** What is drawn and what a dashboard opens with are of the step before; whoever looks at it elsewhere hears of it. */
function retell(queries: QueryClient, name: string, next: Draft) {
  const { now } = pageBeside;
  if (next.page && now && next.pageAsked === askedPage(now)) {
    const { queryKey } = pageQuery(name, now.set, now.view);
    void queries.cancelQueries({ queryKey });
    queries.setQueryData(queryKey, next.page);
    queries.removeQueries({ queryKey: ['dashboard', name], type: 'inactive' });
  } else void queries.invalidateQueries({ queryKey: ['dashboard', name] });
  void queries.invalidateQueries({ queryKey: ['kept', name] });
  const steps = stepsOf(name);
  steps.postMessage(next.step);
  steps.close();
}

/**
 * The draft of a window as a component sees it, from when it is first shown until it is left.
 * @param write Puts a text into the editor, if there is one.
 */
export function useDraft(kind: DraftKind, name: string, opening: Draft, write: (text: string) => void) {
  const queries = useQueryClient();
  const [draft, setDraft] = useState(opening);
  const [state, setState] = useState<SaveState>('saved');
  const [problem, setProblem] = useState<Problem>();
  const [hand] = useState(
    () =>
      new DraftInHand(opening, keptAt(kind, name), {
        draft: (next) => {
          setDraft(next);
          if (kind === 'dashboards') retell(queries, name, next);
        },
        state: setState,
        problem: setProblem,
        write,
      }),
  );

  // The page beside it changes it, too.
  useEffect(() => onDraft((next) => hand.show(next)), [hand]);
  useEffect(() => {
    // What is not saved yet would be lost with the window.
    const ask = (event: BeforeUnloadEvent) => {
      if (!hand.isSaved()) event.preventDefault();
    };
    window.addEventListener('beforeunload', ask);
    return () => {
      window.removeEventListener('beforeunload', ask);
      hand.leave();
    };
  }, [hand]);
  const text = useCallback(() => hand.text, [hand]);
  const dismiss = useCallback(() => setProblem(undefined), []);
  const { save, change, show, byHand, reload, isSaved } = hand;
  return { save, change, show, byHand, reload, isSaved, draft, state, problem, dismiss, text };
}
