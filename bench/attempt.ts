/** `npm run bench [-- core | models | server]`: what an attempt costs, in the core, for large models, through the server. */
import { benchCore } from './core.ts';
import { benchModels } from './models.ts';
import { benchServer } from './server.ts';

const only = process.argv[2];
if (only === undefined || only === 'core') await benchCore();
if (only === undefined || only === 'models') await benchModels();
if (only === undefined || only === 'server') await benchServer();
process.exit(0);
