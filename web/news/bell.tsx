import { Bell as BellIcon } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { Link } from 'react-router';

import type { News, NewsItem } from '#api/news';
import { useNewsQuery, useSeenMutation, useWantMailMutation } from '#web/server';
import { Button, fromNow, plural, Refused, TextField, Toggle } from '#web/ui';

const POLL_MS = 5 * 60_000;

/** What is new for who is signed in, with how much of it was not seen yet. */
export function Bell() {
  const { data, refetch } = useNewsQuery(undefined, { pollingInterval: POLL_MS, skipPollingIfUnfocused: true });
  const [see] = useSeenMutation();
  const [open, setOpen] = useState(false);
  const fresh = data?.items.filter(({ isNew }) => isNew).length ?? 0;
  const change = (isOpen: boolean): void => {
    setOpen(isOpen);
    if (isOpen) void see();
    else void refetch();
  };
  return (
    <Popover.Root open={open} onOpenChange={change}>
      <Popover.Trigger
        aria-label={fresh === 0 ? 'What is new' : `What is new: ${plural(fresh, 'thing')}`}
        className="relative flex size-8 cursor-pointer items-center justify-center hover:bg-accent-soft"
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
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          aria-label="What is new"
          className="z-40 max-h-[70vh] w-[min(26rem,94vw)] overflow-auto border border-ink bg-paper"
        >
          {data && (
            <Items
              items={data.items}
              onFollow={() => {
                change(false);
              }}
            />
          )}
          {data && <ByMail mail={data.mail} />}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Items({ items, onFollow }: { readonly items: readonly NewsItem[]; readonly onFollow: () => void }) {
  if (items.length === 0) return <p className="p-4 text-soft">Nothing happened within the last month.</p>;
  return (
    <ul className="divide-y divide-rule">
      {items.map(({ id, text, to, at, isNew }) => (
        <li key={id} className={isNew ? 'bg-accent-soft' : ''}>
          <Link to={to} className="block px-4 py-2 hover:underline" onClick={onFollow}>
            <span className={isNew ? 'font-semibold' : ''}>{text}</span>
            <span className="block text-xs text-soft">
              {isNew && 'New, '}
              {fromNow(at)}
            </span>
          </Link>
        </li>
      ))}
    </ul>
  );
}

/** Whether the same goes out by mail; nothing where the server sends none. */
function ByMail({ mail }: { readonly mail: News['mail'] }) {
  const [want] = useWantMailMutation();
  if (!mail.isSent) return null;
  return (
    <div className="border-t border-rule px-4 py-2 text-sm">
      {mail.address === null ? (
        <NoAddress mayChange={mail.mayChange} />
      ) : (
        <Toggle
          label={`Also by mail, to ${mail.address}`}
          on={mail.wanted}
          onChange={(wanted) => {
            void want({ wanted });
          }}
        />
      )}
    </div>
  );
}

function NoAddress({ mayChange }: Pick<News['mail'], 'mayChange'>) {
  const [address, setAddress] = useState('');
  const [want, { error, isLoading }] = useWantMailMutation();
  if (!mayChange)
    return <p className="text-soft">Your account has no mail address; your instructor can add one to the list.</p>;
  return (
    <form
      noValidate
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void want({ wanted: true, address });
      }}
    >
      <TextField
        label="Also by mail, to"
        type="email"
        autoComplete="email"
        value={address}
        onChange={(event) => {
          setAddress(event.target.value);
        }}
      />
      <Refused error={error} />
      <Button type="submit" className="self-start" disabled={isLoading || address === ''}>
        Send it there
      </Button>
    </form>
  );
}
