/** How the service is, for whoever looks after it. */
export { ServicePage } from './page.tsx';
