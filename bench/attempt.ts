/** `npm run bench [-- core | author | models | native | server]`: what an attempt costs in the core, authoring, large models, the server. */
import { benchAuthor } from './author.ts';
import { benchCore } from './core.ts';
import { benchModels } from './models.ts';
import { benchNative } from './native.ts';
import { benchServer } from './server.ts';

const only = process.argv[2];
if (only === undefined || only === 'core') await benchCore();
if (only === undefined || only === 'author') await benchAuthor();
if (only === undefined || only === 'models') await benchModels();
if (only === undefined || only === 'native') await benchNative();
if (only === undefined || only === 'server') await benchServer();
process.exit(0);
