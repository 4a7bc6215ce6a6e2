/** Signing in, and signing in again over a page. */
export { SignInPage } from './page.tsx';
export { ExpiredDialog } from './expired.tsx';
