import { useQueryClient } from '@tanstack/react-query';
import { ChevronLeft, CircleUser } from 'lucide-react';
import { lazy, type ReactNode, Suspense, useState } from 'react';
import { Link } from 'wouter';
import { api, unwrap } from '../api/client';
import { isSeen } from '../api/draft';
import { useTold } from '../api/useTold';
import { MenuButton } from '../look/MenuButton';
import { useGo } from '../route';
import classes from './header.module.css';
import { useSession } from './SignedIn';

const loadMenu = () => import('./PersonMenu');
const PersonMenu = lazy(loadMenu);
const LookAsDialog = lazy(() => import('./LookAsDialog'));
const PasswordDialog = lazy(() => import('./PasswordDialog'));

interface Props {
  title: string;
  back?: boolean;
  /** What stands beside the title. */
  beside?: ReactNode;
  children?: ReactNode;
}

/** The slim line at the top: where one is, what can be done here, who is signed in. */
export function Header({ title, back, beside, children }: Props) {
  const session = useSession();
  const queries = useQueryClient();
  const go = useGo();
  const [isChanging, setChanging] = useState(false);
  const [isChoosing, setChoosing] = useState(false);

  const [problem, run] = useTold();

  async function signOut() {
    await unwrap(api.DELETE('/api/session'));
    sessionStorage.clear();
    go('/');
    queries.clear();
    window.location.reload();
  }

  return (
    <header className={classes.header} inert={isSeen}>
      {back && (
        <Link to="/" className={classes.back} aria-label="All dashboards">
          <ChevronLeft size={18} aria-hidden />
        </Link>
      )}
      {!back && session.look?.logo && <img className={classes.logo} src={session.look.logo} alt="" />}
      <h1 className={classes.title}>{title}</h1>
      {beside}
      {problem && <span role="alert">Still signed in: {problem}</span>}
      <div className={classes.actions}>{children}</div>
      <MenuButton
        size={34}
        label={`Signed in as ${session.title}`}
        icon={<CircleUser size={20} aria-hidden />}
        load={loadMenu}
      >
        <PersonMenu
          session={session}
          onPassword={() => setChanging(true)}
          onLookAs={() => setChoosing(true)}
          onSignOut={() => run(signOut)}
        />
      </MenuButton>
      {isChoosing && (
        <Suspense>
          <LookAsDialog onClose={() => setChoosing(false)} />
        </Suspense>
      )}
      {isChanging && (
        <Suspense>
          <PasswordDialog onClose={() => setChanging(false)} />
        </Suspense>
      )}
    </header>
  );
}
