/** Signing in, first sign-ins, signing in again over a page, the own account. */
export { SignedOut } from './page.tsx';
export { AccountDialog } from './account.tsx';
export { ExpiredDialog } from './expired.tsx';
export { NamePasswordForm } from './form.tsx';
export { Outside } from './outside.tsx';
