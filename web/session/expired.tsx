import { Dialog } from '#web/ui';

import { SignInForm } from './form.tsx';

/** Over the page when the sign-in has run out: the page below stays as it is, with all that was typed. */
export function ExpiredDialog({ open, onDone }: { open: boolean; onDone: () => void }) {
  return (
    <Dialog
      open={open}
      title="Your sign-in has run out"
      description="Sign in again to go on. Everything you typed is still here."
    >
      <SignInForm onDone={onDone} />
    </Dialog>
  );
}
