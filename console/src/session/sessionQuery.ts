import { queryOptions } from '@tanstack/react-query';
import { api, unwrap } from '../api/client';

/** Who is signed in. */
export const sessionQuery = queryOptions({
  queryKey: ['session'],
  queryFn: () => unwrap(api.GET('/api/session')),
});
