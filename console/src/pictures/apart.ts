import { type ComponentType, createElement, startTransition, useEffect, useState } from 'react';

const all: (() => Promise<unknown>)[] = [];

/** Brings all that comes apart, for whoever will draw without waiting; what comes may have parts of its own. */
export async function bringAll() {
  for (const bring of all) await bring();
}

/**
 * A component that comes apart and stands at once when it is there. What suspends instead is held back by React for a third of a
 * second, lest a page flickers; figures are not to wait for that.
 * @param isPatient True if it steps back behind what else is to be drawn.
 */
export function apart<P extends object>(load: () => Promise<{ default: ComponentType<P> }>, isPatient = false) {
  let here: ComponentType<P> | Error | undefined;
  let coming: Promise<unknown> | undefined;
  const waiting = new Set<() => void>();
  const come = (what: typeof here) => {
    here = what;
    for (const told of waiting) told();
  };
  const bring = () => {
    coming ??= load().then(
      (module) => {
        come(module.default);
        return module;
      },
      (error: unknown) => {
        come(error instanceof Error ? error : new Error(String(error)));
        throw error;
      },
    );
    return coming;
  };
  all.push(bring);
  // biome-ignore lint/correctness/noComponentHookFactories: made once for each part, not while drawing
  function Part(props: P) {
    const [shown, setShown] = useState(() => here);
    useEffect(() => {
      const show = () => setShown(() => here);
      const told = isPatient ? () => startTransition(show) : show;
      // What does not come is thrown below, to be told where it is to be drawn.
      bring().catch(() => undefined);
      waiting.add(told);
      told();
      return () => {
        waiting.delete(told);
      };
    }, []);
    if (shown instanceof Error) throw shown;
    return shown ? createElement(shown, props) : null;
  }
  return { bring, Part };
}
