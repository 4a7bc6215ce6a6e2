import { Ellipsis } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';

export interface MenuItem {
  readonly words: string;
  readonly onChoose: () => void;
}

/** What can be done with a thing, behind a button that is named after it. */
export function Menu({ label, items }: { readonly label: string; readonly items: readonly MenuItem[] }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={label}
        className="inline-flex size-8 items-center justify-center hover:bg-accent-soft"
      >
        <Ellipsis aria-hidden className="size-4" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-50 min-w-44 border border-ink bg-paper py-1 text-sm">
          {items.map(({ words, onChoose }) => (
            <DropdownMenu.Item
              key={words}
              onSelect={onChoose}
              className="cursor-default px-3 py-1.5 outline-none data-[highlighted]:bg-accent-soft"
            >
              {words}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
