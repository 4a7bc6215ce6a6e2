import { SignInForm } from './form.tsx';

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

export function SignInPage() {
  return (
    <main className="mx-auto flex min-h-screen max-w-sm flex-col justify-center p-6">
      <div className="border-ink/70 p-6 panel">
        <Mark />
        <h1 className="mb-4 text-lg">Sign in to see your exercises</h1>
        <SignInForm />
      </div>
    </main>
  );
}
