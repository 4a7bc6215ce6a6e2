import type { ComponentProps, ReactNode } from 'react';

import { TextField } from '#web/ui';

/** Drawn in ink: a size between two extension lines, what the product is about. */
const Mark = () => (
  <svg viewBox="0 0 320 120" className="mb-6 w-full text-ink" fill="none" stroke="currentColor" aria-hidden>
    <path d="M20 20v88M300 20v88" strokeWidth="1.2" />
    <path d="M20 64h86M214 64h86" strokeWidth="1.2" />
    <path d="M20 64l14-4v8zM300 64l-14-4v8z" fill="currentColor" />
    <text x="160" y="74" textAnchor="middle" fontSize="30" fontWeight="650" fill="currentColor" stroke="none">
      Zorvet
    </text>
  </svg>
);

interface OutsideProps {
  readonly title: string;
  /** For forms of two columns. */
  readonly isWide?: boolean;
  readonly children: ReactNode;
}

/** A page for whoever is not signed in. */
export const Outside = ({ title, isWide = false, children }: OutsideProps) => (
  <main className={`mx-auto flex min-h-screen flex-col justify-center p-6 ${isWide ? 'max-w-2xl' : 'max-w-sm'}`}>
    <div className="border-ink/70 p-6 panel">
      <div className="mx-auto max-w-80">
        <Mark />
      </div>
      <h1 className="mb-4 text-lg">{title}</h1>
      {children}
    </div>
  </main>
);

/** A password that somebody chooses, with what makes a good one. */
export const NewPasswordField = ({ label = 'Password', ...field }: Partial<ComponentProps<typeof TextField>>) => (
  <TextField
    label={label}
    type="password"
    autoComplete="new-password"
    hint="Eight or more characters; three words that do not belong together are good."
    {...field}
  />
);

/** A name to sign in with that somebody chooses. */
export const NewLoginField = (field: Partial<ComponentProps<typeof TextField>>) => (
  <TextField label="Sign-in name" autoComplete="username" autoCapitalize="none" {...field} />
);

/** Another way in, below a form. */
export const OtherWay = ({ to, children }: { readonly to: string; readonly children: ReactNode }) => (
  <p className="mt-4 text-sm">
    <a className="underline" href={to}>
      {children}
    </a>
  </p>
);
