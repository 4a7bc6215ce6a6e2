/** `npm run bench [-- core | author | determinacy | sheet | mistakes | files | score | models | native | load | likeness | server]`: what an attempt costs in the core, authoring, sheets, large models, the server. */
import { benchAuthor } from './author.ts';
import { benchDeterminacy } from './determinacy.ts';
import { benchCore } from './core.ts';
import { benchFileReferences } from './file-references.ts';
import { benchLikeness } from './likeness.ts';
import { benchLoad } from './load.ts';
import { benchMistakes } from './mistakes.ts';
import { benchModels } from './models.ts';
import { benchNative } from './native.ts';
import { benchScore } from './score.ts';
import { benchServer } from './server.ts';
import { benchSheet } from './sheet.ts';

const only = process.argv[2];
if (only === undefined || only === 'core') await benchCore();
if (only === undefined || only === 'author') await benchAuthor();
if (only === undefined || only === 'determinacy') await benchDeterminacy();
if (only === undefined || only === 'sheet') await benchSheet();
if (only === undefined || only === 'score') await benchScore();
if (only === 'mistakes') await benchMistakes(process.argv[3]);
if (only === 'files') await benchFileReferences(process.argv[3]);
if (only === 'likeness') await benchLikeness();
if (only === undefined || only === 'models') await benchModels();
if (only === undefined || only === 'native') await benchNative();
if (only === undefined || only === 'load') await benchLoad();
if (only === undefined || only === 'server') await benchServer();
process.exit(0);
