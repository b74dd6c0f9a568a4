import { useCallback, useState } from 'react';

/** A way to do what may be refused, and why it was the last time: nothing that fails goes by without a word. */
export function useTold(): [problem: string | undefined, run: (act: () => Promise<unknown>) => void] {
  const [problem, setProblem] = useState<string>();
  const run = useCallback((act: () => Promise<unknown>) => {
    setProblem(undefined);
    act().catch((error: unknown) => setProblem(error instanceof Error ? error.message : String(error)));
  }, []);
  return [problem, run];
}
