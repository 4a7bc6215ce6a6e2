import type { ReactNode } from 'react';

import { failureText } from '#web/server';

/** Shown while a part of the page is on its way. */
export const Loading = ({ what }: { what: string }) => (
  <p role="status" className="hatch px-3 py-6 text-center text-soft panel">
    Loading {what} ...
  </p>
);

/** Shown where something could not be loaded, with a way on. */
export const Failed = ({ error, retry }: { error: unknown; retry?: () => void }) => (
  <div role="alert" className="border-l-4 border-wrong bg-wrong-soft px-3 py-2 text-ink">
    {failureText(error)}
    {retry && (
      <button type="button" className="ml-3 cursor-pointer underline" onClick={retry}>
        Try again
      </button>
    )}
  </div>
);

/** Says what is wrong, beside what it concerns. */
export const Alert = ({ children }: { children: ReactNode }) => (
  <p role="alert" className="border-l-4 border-wrong bg-wrong-soft px-3 py-2">
    {children}
  </p>
);

/** Why nothing came of a form; nothing where there is no error. */
export const Refused = ({ error }: { error: unknown }) =>
  error === undefined ? null : <Alert>{failureText(error)}</Alert>;

export const Empty = ({ children }: { children: ReactNode }) => (
  <div className="border border-dashed border-rule px-3 py-6 text-center text-soft">{children}</div>
);

export const Panel = ({
  title,
  aside,
  children,
  className = '',
}: {
  title: ReactNode;
  aside?: ReactNode;
  children: ReactNode;
  className?: string;
}) => (
  <section className={`relative panel ${className}`}>
    <div className="flex min-h-9 items-center justify-between gap-3 border-b border-rule px-3">
      <h2 className="text-sm">{title}</h2>
      {aside}
    </div>
    {children}
  </section>
);
