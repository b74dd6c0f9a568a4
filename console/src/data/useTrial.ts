import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, unwrap } from '../api/client';

/** A formula that is being written, of a field or a measure. */
export interface Tried {
  /** The dataset, with it or without it. */
  text: string;
  name: string;
  formula: string;
  isMeasure: boolean;
  /** For a measure: the field by which it is shown. */
  by?: string;
}

/** What the service says of a formula when nobody has typed for a moment: its fault, or what it gives. */
export function useTrial(now: Tried) {
  const [formula] = useDebouncedValue(now.formula, 300);
  const body = { ...now, formula };
  return useQuery({
    queryKey: ['formula', body],
    enabled: formula.trim() !== '' && now.name !== '',
    queryFn: ({ signal }) => unwrap(api.POST('/api/datasets/formula', { body, signal })),
    placeholderData: keepPreviousData,
  });
}
