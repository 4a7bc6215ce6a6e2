import { useLocation } from 'react-router';

import { useSetupStateQuery } from '#web/server';
import { Failed, Loading } from '#web/ui';

import { SignInForm } from './form.tsx';
import { JoinPage } from './join.tsx';
import { OtherWay, Outside } from './outside.tsx';
import { SetupPage } from './setup.tsx';
import { WelcomePage } from './welcome.tsx';

const JOIN = /^\/join\/([\w-]+)$/;

/** What somebody sees who is not signed in: setting up, a first sign-in, joining a section, or signing in. */
export function SignedOut() {
  const { pathname } = useLocation();
  const { data: setup, error, refetch } = useSetupStateQuery();
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!setup) return <Loading what="Zorvet" />;
  if (setup.needed) return <SetupPage timeZone={setup.timeZone} />;
  if (pathname === '/welcome') return <WelcomePage />;
  const code = JOIN.exec(pathname)?.[1];
  return code === undefined ? <SignInPage /> : <JoinPage code={code} />;
}

const SignInPage = () => (
  <Outside title="Sign in to see your exercises">
    <SignInForm />
    <OtherWay to="/welcome">I have a slip with a code</OtherWay>
  </Outside>
);
