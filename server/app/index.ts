/** The server as a whole: its services over one database and file store, its routes, and how it is started. */
export { createServer, type ServerParts, type Services, type WebOptions } from './server.ts';
export { portOf, StartRefusal, takeFolder } from './folder.ts';
export { listen, startOrSay, startServices, type Started } from './start.ts';
