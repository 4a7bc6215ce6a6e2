import { Popover } from 'radix-ui';
import { useState, type RefObject } from 'react';
import { Link } from 'react-router';

import type { News, NewsItem } from '#api/news';
import { useWantMailMutation } from '#web/server';
import { Button, fromNow, Refused, TextField, Toggle } from '#web/ui';

interface NewsListProps {
  readonly news: News;
  /** The bell that it hangs from. */
  readonly bell: RefObject<HTMLButtonElement | null>;
  readonly onClose: () => void;
}

/** What is new, below the bell; loaded when somebody looks for the first time. */
export default function NewsList({ news: { items, mail }, bell, onClose }: NewsListProps) {
  return (
    <Popover.Root
      open
      onOpenChange={(isOpen) => {
        if (!isOpen) onClose();
      }}
    >
      <Popover.Anchor virtualRef={bell} />
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          aria-label="What is new"
          className="z-40 max-h-[70vh] w-[min(26rem,94vw)] overflow-auto border border-ink bg-paper"
          onInteractOutside={(event) => {
            // The bell closes it by itself.
            if (event.target instanceof Node && bell.current?.contains(event.target)) event.preventDefault();
          }}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            bell.current?.focus();
          }}
        >
          <Items items={items} onFollow={onClose} />
          <ByMail mail={mail} />
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
