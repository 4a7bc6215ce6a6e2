import { X } from 'lucide-react';
import { Dialog as Primitive } from 'radix-ui';
import type { ReactNode } from 'react';

/** A modal sheet of paper over the page. */
export function Dialog({
  open = true,
  onClose,
  title,
  description,
  children,
}: {
  /** Left out where the dialog is only there while it is open. */
  open?: boolean;
  /** Left out where it cannot be left before what it asks is done. */
  onClose?: () => void;
  title: string;
  description: string;
  children: ReactNode;
}) {
  return (
    <Primitive.Root
      open={open}
      onOpenChange={(isOpen) => {
        if (!isOpen) onClose?.();
      }}
    >
      <Primitive.Portal>
        <Primitive.Overlay className="fixed inset-0 z-40 bg-black/50" />
        <Primitive.Content className="fixed top-1/2 left-1/2 z-50 max-h-[92vh] w-[min(34rem,94vw)] -translate-x-1/2 -translate-y-1/2 overflow-auto border border-ink bg-paper p-5">
          <Primitive.Title className="pr-8 text-lg font-semibold">{title}</Primitive.Title>
          <Primitive.Description className="mt-1 mb-4 text-sm text-soft">{description}</Primitive.Description>
          {children}
          {/* After the children, so that what is asked for has the focus first. */}
          {onClose !== undefined && (
            <Primitive.Close
              aria-label="Close"
              className="absolute top-4 right-4 inline-flex size-8 items-center justify-center hover:bg-accent-soft"
            >
              <X aria-hidden className="size-4" />
            </Primitive.Close>
          )}
        </Primitive.Content>
      </Primitive.Portal>
    </Primitive.Root>
  );
}
