import { tzOffset } from '@date-fns/tz';
import { LogOut, Moon, Sun } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { Suspense, useState } from 'react';
import { Navigate, NavLink, Outlet } from 'react-router';
import { Toaster } from 'sonner';

import { may, mayDo, type Action } from '#api/roles';
import type { User } from '#api/session';
import { machineZone } from '#core/time';
import { Bell } from '#web/news';
import { useSessionQuery, useSignOutMutation } from '#web/server';
import { AccountDialog, ExpiredDialog, SignedOut } from '#web/session';
import { signInRenewed, useAppDispatch, useAppSelector } from '#web/store';
import { useTheme } from '#web/theme';
import { Empty, Failed, Loading, tellTimesIn, usePageKeys, zoneOfTimes } from '#web/ui';

import { useAttemptEvents } from './events.ts';

/** Pages of the bar, by what one must be allowed for them; the first that is allowed is where one begins. */
const PLACES = [
  ['read-course', '/desk', 'Desk'],
  ['read-course', '/exercises', 'Exercises'],
  ['read-course', '/grades', 'Grades'],
  ['manage-course', '/people', 'People'],
  ['work', '/my', 'My work'],
  ['administer', '/service', 'Service'],
] as const satisfies readonly (readonly [Action, string, string])[];

const placesOf = (user: User) => PLACES.filter(([action]) => mayDo(user, action));

/** Signed out: the sign-in page. Signed in: the frame around every page. */
export function Shell() {
  const { data, error, refetch } = useSessionQuery();
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="Zorvet" />;
  tellTimesIn(data.timeZone);
  return data.user === null ? <SignedOut /> : <Frame user={data.user} isReadOnly={data.isReadOnly} />;
}

export function Home() {
  const user = useSessionQuery().data?.user;
  if (!user) return null;
  const [first] = placesOf(user);
  return first ? <Navigate replace to={first[1]} /> : <NoPages />;
}

/** For accounts that have nothing to do in a course. */
const NoPages = () => <Empty>Your account belongs to no course. Ask an instructor to be added to one.</Empty>;

const BAR_BUTTON = 'hover:bg-accent-soft flex size-8 cursor-pointer items-center justify-center';

function Frame({ user, isReadOnly }: { user: User; isReadOnly: boolean }) {
  useAttemptEvents();
  const dispatch = useAppDispatch();
  const expired = useAppSelector((state) => state.signIn.expired);
  const { theme, setTheme } = useTheme();
  const [signOut] = useSignOutMutation();
  const [isAccountOpen, setIsAccountOpen] = useState(false);
  const leave = async (): Promise<void> => {
    await signOut();
    // Loaded anew, so that nothing of this user stays in the page.
    window.location.assign('/');
  };
  return (
    <div className="min-h-screen">
      <a href="#main" className="sr-only bg-paper focus:not-sr-only focus:absolute focus:p-2">
        Skip to the page
      </a>
      <nav
        aria-label="Main"
        className="flex h-11 items-stretch gap-1 border-b border-ink/70 bg-paper px-4 print:hidden"
      >
        <span className="mr-4 flex items-center gap-1.5 font-bold">
          <svg
            viewBox="0 0 32 32"
            width="20"
            fill="none"
            stroke="currentColor"
            strokeWidth="2.4"
            className="text-accent"
            aria-hidden
          >
            <path d="M6 4v24M26 4v24M6 16h20M11 12l-5 4 5 4M21 12l5 4-5 4" />
          </svg>
          Zorvet
        </span>
        {placesOf(user).map(([, to, label]) => (
          <NavLink
            key={to}
            to={to}
            className={({ isActive }) =>
              `flex items-center border-b-2 px-2 ${isActive ? 'border-ink font-semibold' : 'border-transparent text-soft hover:text-ink'}`
            }
          >
            {label}
          </NavLink>
        ))}
        <span className="ml-auto flex items-center gap-1">
          <button
            type="button"
            className="mr-2 h-8 cursor-pointer px-2 text-soft hover:bg-accent-soft max-sm:max-w-24 max-sm:truncate"
            onClick={() => {
              setIsAccountOpen(true);
            }}
          >
            {user.name}
          </button>
          <Bell />
          <KeyList role={user.role} />
          <button
            type="button"
            aria-label={theme === 'dark' ? 'Light paper' : 'Dark paper'}
            className={BAR_BUTTON}
            onClick={() => {
              setTheme(theme === 'dark' ? 'light' : 'dark');
            }}
          >
            {theme === 'dark' ? <Sun size={16} aria-hidden /> : <Moon size={16} aria-hidden />}
          </button>
          <button type="button" aria-label="Sign out" className={BAR_BUTTON} onClick={() => void leave()}>
            <LogOut size={16} aria-hidden />
          </button>
        </span>
      </nav>
      <main id="main" className="mx-auto flex max-w-[92rem] flex-col gap-4 p-4">
        {isReadOnly && (
          <p role="status" className="border-l-4 border-accent bg-accent-soft px-3 py-2">
            This is the archive of a course, as its staff saw it. It is read, and nothing in it is changed.
          </p>
        )}
        <OtherZone />
        <Suspense fallback={<Loading what="the page" />}>
          <Outlet />
        </Suspense>
      </main>
      <AccountDialog
        user={user}
        open={isAccountOpen}
        onClose={() => {
          setIsAccountOpen(false);
        }}
      />
      <ExpiredDialog open={expired} onDone={() => dispatch(signInRenewed())} />
      <Toaster theme={theme} position="bottom-center" />
    </div>
  );
}

/** Whoever sits elsewhere is told by whose clocks times are given. */
function OtherZone() {
  const [course, device] = [zoneOfTimes(), machineZone()];
  const [now] = useState(() => new Date());
  if (tzOffset(course, now) === tzOffset(device, now)) return null;
  return (
    <p className="-mb-2 text-xs text-soft">
      Times are those of {course.replaceAll('_', ' ')}; this device is set to {device.replaceAll('_', ' ')}.
    </p>
  );
}

const KEYS = [
  ['review', 'N', 'next student, while reviewing'],
  ['review', 'P', 'previous student, while reviewing'],
  [null, 'J', 'next check that is not right, in a report'],
  [null, 'K', 'the one before'],
  ['review', 'O', 'count the chosen check otherwise'],
  ['review', 'W', 'write a remark'],
  ['review', 'A', 'accept, or take it up again'],
  ['work', 'N', 'next question, or next step of a part that is shown'],
  ['work', 'B', 'the step before'],
  [null, '?', 'this list'],
] as const satisfies readonly (readonly [Action | null, string, string])[];

/** The keys that work, on one key. */
function KeyList({ role }: { role: User['role'] }) {
  const [open, setOpen] = useState(false);
  usePageKeys({ '?': () => setOpen(true) });
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className={BAR_BUTTON} aria-label="Keys">
        ?
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/50" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/3 left-1/2 z-50 w-80 -translate-x-1/2 border border-ink bg-paper p-5"
        >
          <Dialog.Title className="mb-3 text-lg font-semibold">Keys</Dialog.Title>
          <dl className="grid grid-cols-[3rem_1fr] gap-y-1">
            {KEYS.filter(([action]) => action === null || may(role, action)).map(([, key, what]) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="border border-ink/60 px-1.5">{key}</kbd>
                </dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
