import { useQuery, useQueryClient } from '@tanstack/react-query';
import { createContext, lazy, type ReactNode, Suspense, useContext } from 'react';
import { Refused, type Session } from '../api/client';
import { sessionQuery } from './sessionQuery';

// Whoever is signed in already never needs it.
const SignInPage = lazy(() => import('./SignInPage'));

const SessionContext = createContext<Session | null>(null);

/** Who is signed in. */
export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error('There is no session here.');
  return session;
}

/** Shows its children to who is signed in, the sign-in page to others. */
export function SignedIn({ children }: { children: ReactNode }) {
  const queries = useQueryClient();
  const session = useQuery(sessionQuery);
  if (session.data) return <SessionContext.Provider value={session.data}>{children}</SessionContext.Provider>;
  if (session.error instanceof Refused && session.error.status === 401)
    return (
      <Suspense>
        <SignInPage onSignedIn={(signedIn) => queries.setQueryData(sessionQuery.queryKey, signedIn)} />
      </Suspense>
    );
  return session.error ? <p role="alert">The service can’t be reached. Reload the page to try again.</p> : null;
}
