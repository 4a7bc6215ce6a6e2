import { Tabs } from 'radix-ui';
import type { ReactNode } from 'react';

/** The head of one sheet of a `Tabs.Root`. */
export function Tab({ value, children }: { value: string; children: ReactNode }) {
  return (
    <Tabs.Trigger
      value={value}
      className="h-9 cursor-pointer border-b-2 border-transparent px-3 text-sm data-[state=active]:border-ink data-[state=active]:font-semibold"
    >
      {children}
    </Tabs.Trigger>
  );
}
