import { useQuery, useQueryClient } from '@tanstack/react-query';
import { createContext, lazy, type ReactNode, Suspense, useContext, useEffect } from 'react';
import { Refused, type Session } from '../api/client';
import { isSeen } from '../api/draft';
import { leaveLooking, lookedAs } from '../api/lookAs';
import { paintHouse } from '../look/look';
import { LookingAs } from './LookingAs';
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
  const look = session.data?.look;
  useEffect(() => {
    if (session.data) paintHouse(look ? { light: look.light, dark: look.dark } : undefined);
  }, [session.data, look]);
  if (session.data) {
    const { title, lookedAsBy } = session.data;
    return (
      <SessionContext.Provider value={session.data}>
        {lookedAsBy === null || isSeen ? children : <LookingAs title={title}>{children}</LookingAs>}
      </SessionContext.Provider>
    );
  }
  if (session.error instanceof Refused && session.error.status === 401)
    return (
      <Suspense>
        <SignInPage onSignedIn={(signedIn) => queries.setQueryData(sessionQuery.queryKey, signedIn)} />
      </Suspense>
    );
  // Who is not there any more, or may not be looked as, leaves nothing to see.
  if (session.error instanceof Refused && lookedAs !== undefined)
    return (
      <main role="alert">
        <p>{session.error.message}</p>
        {!isSeen && (
          <button type="button" onClick={leaveLooking}>
            Back to your own page
          </button>
        )}
      </main>
    );
  return session.error ? <p role="alert">The service can’t be reached. Reload the page to try again.</p> : null;
}
