import type { ReactNode } from 'react';

import { failureText } from '#web/server';

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

/** Why nothing came of a form. */
export const Refused = ({ error }: { readonly error: unknown }) =>
  error === undefined ? null : (
    <p role="alert" className="border-l-4 border-wrong bg-wrong-soft px-3 py-2">
      {failureText(error)}
    </p>
  );

/** What makes a good password, under its field. */
export const PASSWORD_HINT = 'Eight or more characters; three words that do not belong together are good.';
