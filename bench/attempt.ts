/** `npm run bench`: what an attempt costs, in the core and through the server. */
import { benchCore } from './core.ts';
import { benchModels } from './models.ts';
import { benchServer } from './server.ts';

await benchCore();
await benchModels();
await benchServer();
process.exit(0);
