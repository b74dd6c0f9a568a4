import { useCallback, useEffect, useRef, useState } from 'react';
import { api, type Schemas, unwrap } from '../api/client';
import type { DraftKind } from './draftInHand';
import { useDraft } from './useDraft';
import type { Step } from './written';
import type { Editor } from './YamlEditor';

/** A draft that is worked on, by hand and as text, and where one is in it. */
export function useDesk(
  kind: DraftKind,
  name: string,
  opening: Schemas['DraftAnswer'],
  begins: 'hand' | 'text' = 'hand',
) {
  const [way, choose] = useState(begins);
  // The editor comes when it is first looked at, and stays from then on.
  const [hasEditor, setHasEditor] = useState(begins === 'text');
  const [goingTo, setGoingTo] = useState<{ line: number; column: number }>();
  const editor = useRef<Editor>(null);
  const writing = useCallback((text: string) => editor.current?.write(text), []);
  const work = useDraft(kind, name, opening, writing);
  // The editor comes later than the wish to see a place in it.
  const [hasCome, setHasCome] = useState(false);
  const taking = useCallback((e: Editor | null) => {
    editor.current = e;
    setHasCome(e !== null);
  }, []);
  useEffect(() => {
    if (!goingTo || way !== 'text' || !hasCome) return;
    editor.current?.go(goingTo.line, goingTo.column);
    setGoingTo(undefined);
  }, [goingTo, way, hasCome]);
  const setWay = useCallback((next: 'hand' | 'text') => {
    setGoingTo(undefined);
    choose(next);
    if (next === 'text') setHasEditor(true);
  }, []);
  /** Shows a place of the text, from 1. */
  const go = useCallback((line: number, column: number) => {
    setHasEditor(true);
    choose('text');
    setGoingTo({ line, column });
  }, []);
  const { byHand } = work;
  /** Changes places of the text, as one step. True once that is stored. */
  const take = useCallback(
    (steps: Step[]): Promise<boolean> =>
      steps.length === 0
        ? Promise.resolve(true)
        : byHand(() =>
            unwrap(api.POST('/api/drafts/{kind}/{name}/steps', { params: { path: { kind, name } }, body: { steps } })),
          ),
    [kind, name, byHand],
  );
  /** Puts another text in the place of what is there, as if it were typed. */
  const replace = (text: string) => {
    if (editor.current) editor.current.write(text);
    else work.change(text);
  };
  return { kind, name, work, way, setWay, hasEditor, taking, go, take, replace };
}

export type Desk = ReturnType<typeof useDesk>;
