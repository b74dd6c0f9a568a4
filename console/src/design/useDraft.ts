import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { api, Refused, type Schemas, unwrap } from '../api/client';
import { askedPage, onDraft, pageBeside, stepsOf } from '../api/draft';
import { pageQuery } from '../dashboard/pageQuery';
import { together } from './together';
import { Typing } from './typing';

type Draft = Schemas['DraftAnswer'];

/** What is worked on as a draft. */
export type DraftKind =
  | 'dashboards'
  | 'datasets'
  | 'sources'
  | 'catalogues'
  | 'openings'
  | 'reports'
  | 'access'
  | 'workspace';

/** How long nobody types before the text is saved, in milliseconds: a third of what the last answer took, within limits. */
const rests = { least: 40, most: 300 };

/** What could not be stored, and what can be done about it. */
export interface Problem {
  message: string;
  /** Another window changed the draft: what is there has to be loaded. */
  isBehind: boolean;
  /** A change by hand that can't be made; there is nothing to try again. */
  isByHand: boolean;
}

const isBehind = (error: unknown) => error instanceof Refused && error.code === 'draft-moved';

/**
 * The draft of a window, and all that changes it: what is typed, what is done by hand, steps back and forth. One after the other, and of what
 * is typed the newest. What another window, or the page beside, changes meanwhile is put together with what is typed where the two are at
 * different lines; else it is told, and nothing that was typed is lost without a word.
 * @param write Puts a text into the editor, if there is one.
 */
export function useDraft(kind: DraftKind, name: string, opening: Draft, write: (text: string) => void) {
  const queries = useQueryClient();
  const [draft, setDraft] = useState(opening);
  const [state, setState] = useState<'saved' | 'waiting' | 'saving'>('saved');
  const [problem, setProblem] = useState<Problem>();
  const at = useRef({ draft: opening, text: opening.text });
  const saving = useRef<Promise<void>>(undefined);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  /** How long it took to store what was typed last, in milliseconds. */
  const took = useRef(0);
  const changing = useRef<Promise<unknown>>(Promise.resolve());

  const actions = useMemo(() => {
    const typing = new Typing();
    const path = { params: { path: { kind, name } } };
    const told = (error: unknown) =>
      setProblem({
        message: error instanceof Error ? error.message : String(error),
        isBehind: isBehind(error),
        isByHand: error instanceof Refused && error.code === 'bad-step',
      });
    const take = (next: Draft) => {
      at.current.draft = next;
      setDraft(next);
      setProblem(undefined);
      if (kind !== 'dashboards') return;
      // What is drawn and what it opens with are of the step before.
      const { now } = pageBeside;
      if (next.page && now && next.pageAsked === askedPage(now)) {
        const { queryKey } = pageQuery(name, now.set, now.view);
        void queries.cancelQueries({ queryKey });
        queries.setQueryData(queryKey, next.page);
        queries.removeQueries({ queryKey: ['dashboard', name], type: 'inactive' });
      } else void queries.invalidateQueries({ queryKey: ['dashboard', name] });
      void queries.invalidateQueries({ queryKey: ['kept', name] });
      // Whoever looks at it elsewhere hears of it.
      const steps = stepsOf(name);
      steps.postMessage(next.step);
      steps.close();
    };
    const isSaved = () => at.current.text === at.current.draft.text;

    async function saveAll() {
      setState('saving');
      try {
        while (!isSaved()) {
          const { text, draft } = at.current;
          const from = performance.now();
          const body = { text, after: draft.step, joins: typing.sent(draft.step) };
          let next: Draft;
          try {
            next = await unwrap(api.PUT('/api/drafts/{kind}/{name}', { ...path, body }));
          } catch (error) {
            if (!isBehind(error) || !follow(await unwrap(api.GET('/api/drafts/{kind}/{name}', path)))) throw error;
            continue;
          }
          took.current = performance.now() - from;
          typing.stored(next.step);
          // What came meanwhile is newer.
          if (at.current.draft === draft || at.current.draft.step < next.step) take(next);
        }
        setState('saved');
      } catch (error) {
        told(error);
        setState('waiting');
      }
    }
    /** Stores what was typed; done when it is, or when it can't be. */
    function save(): Promise<void> {
      clearTimeout(timer.current);
      if (!saving.current && !isSaved())
        saving.current = saveAll().finally(() => {
          saving.current = undefined;
        });
      return saving.current ?? Promise.resolve();
    }
    /** What is typed; it is saved when nobody has typed for a moment. */
    function change(text: string, isBack = false) {
      at.current.text = text;
      clearTimeout(timer.current);
      typing.typed(performance.now(), isBack);
      if (isSaved()) {
        if (!saving.current) setState('saved');
        return;
      }
      setState('waiting');
      timer.current = setTimeout(() => void save(), Math.min(rests.most, Math.max(rests.least, took.current / 3)));
    }
    /** Goes on from another step with what is typed here. False if both are at the same lines: then all stays as it was. */
    function follow(next: Draft, typed = at.current.draft.text): boolean {
      const text = together(typed, next.text, at.current.text);
      if (text === undefined) return false;
      take(next);
      at.current.text = text;
      write(text);
      return true;
    }
    /** Another step, as the service has it. What was typed meanwhile stays, and is told of when it can't be saved. */
    function show(next: Draft, typed = at.current.draft.text) {
      if (follow(next, typed)) {
        change(at.current.text);
        return;
      }
      const { draft } = at.current;
      take(next);
      at.current.draft = draft;
    }
    /** Changes the draft by hand, one change after the other, each after what was typed; true once it is stored. */
    function byHand(send: (now: Draft) => Promise<Draft>): Promise<boolean> {
      const done = changing.current.then(async () => {
        await save();
        // What could not be saved is told already.
        if (!isSaved()) return false;
        const typed = at.current.text;
        try {
          show(await send(at.current.draft), typed);
          return true;
        } catch (error) {
          told(error);
          return false;
        }
      });
      changing.current = done;
      return done;
    }
    /** Loads what the service has, in place of what was typed here. */
    async function reload() {
      try {
        show(await unwrap(api.GET('/api/drafts/{kind}/{name}', path)), at.current.text);
      } catch (error) {
        told(error);
      }
    }
    return { save, change, show, byHand, reload, isSaved };
  }, [kind, name, queries, write]);

  // The page beside it changes it, too.
  useEffect(() => onDraft((next) => actions.show(next)), [actions]);
  useEffect(() => {
    // What is not saved yet would be lost with the window.
    const ask = (event: BeforeUnloadEvent) => {
      if (!actions.isSaved()) event.preventDefault();
    };
    window.addEventListener('beforeunload', ask);
    return () => {
      window.removeEventListener('beforeunload', ask);
      clearTimeout(timer.current);
    };
  }, [actions]);
  const text = useCallback(() => at.current.text, []);
  const dismiss = useCallback(() => setProblem(undefined), []);
  return { ...actions, draft, state, problem, dismiss, text };
}
