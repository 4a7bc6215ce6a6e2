/** The server as a whole: its services over one database and file store, its routes, and how it is started. */
export { createServer, type Services } from './server.ts';
export type { ServerParts, WebOptions } from './services.ts';
export { portOf, StartRefusal, takeFolder } from './folder.ts';
export { listen, startOrSay, startServices, type Started } from './start.ts';
