import { Bell as BellIcon } from 'lucide-react';
import { lazy, Suspense, useRef, useState } from 'react';

import { useNewsQuery, useSeenMutation } from '#web/server';
import { plural } from '#web/ui';

const NewsList = lazy(() => import('./list.tsx'));

const POLL_MS = 5 * 60_000;

/** What is new for who is signed in, with how much of it was not seen yet. */
export function Bell() {
  const { data, refetch } = useNewsQuery(undefined, { pollingInterval: POLL_MS, skipPollingIfUnfocused: true });
  const [see] = useSeenMutation();
  const [open, setOpen] = useState(false);
  const bell = useRef<HTMLButtonElement>(null);
  const fresh = data?.items.filter(({ isNew }) => isNew).length ?? 0;
  const change = (isOpen: boolean): void => {
    setOpen(isOpen);
    if (isOpen) void see();
    else void refetch();
  };
  return (
    <>
      <button
        ref={bell}
        type="button"
        aria-haspopup="dialog"
        aria-expanded={open}
        aria-label={fresh === 0 ? 'What is new' : `What is new: ${plural(fresh, 'thing')}`}
        className="relative flex size-8 cursor-pointer items-center justify-center hover:bg-accent-soft"
        onClick={() => {
          change(!open);
        }}
      >
        <BellIcon size={16} aria-hidden />
        {fresh > 0 && (
          <span
            aria-hidden
            className="absolute top-0 right-0 min-w-4 bg-accent px-0.5 text-center text-[0.65rem] leading-4 font-semibold text-paper"
          >
            {fresh > 99 ? '99+' : fresh}
          </span>
        )}
      </button>
      {open && data && (
        <Suspense fallback={null}>
          <NewsList
            news={data}
            bell={bell}
            onClose={() => {
              change(false);
            }}
          />
        </Suspense>
      )}
    </>
  );
}
