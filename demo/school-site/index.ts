/** A stand-in of a school's site, for the demo and the tests. */
export { courseServicesOf, createStandIn, registrationOf, type StandIn } from './app.ts';
export { serveStandIn } from './serve.ts';
export { SITE_NAME, SITE_PEOPLE, type SitePerson } from './state.ts';
