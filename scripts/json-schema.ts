/** Writes the published JSON Schemas of recipe and exercise: `node dist/node/json-schema.js`. */
import { mkdirSync, writeFileSync } from 'node:fs';

import { toJsonSchema } from '@valibot/to-json-schema';

import { ExerciseSchema } from '#core/exercise';
import { OutlineSchema } from '#core/outline';
import { RecipeSchema } from '#core/recipe';

const options = { errorMode: 'ignore', definitions: { Outline: OutlineSchema } } as const;
mkdirSync('docs', { recursive: true });
for (const [name, schema, title] of [
  ['recipe', RecipeSchema, 'A recipe of Zorvet'],
  ['exercise', ExerciseSchema, 'An exercise of Zorvet'],
] as const)
  writeFileSync(
    `docs/${name}.schema.json`,
    `${JSON.stringify({ title, ...toJsonSchema(schema, options) }, null, 2)}\n`,
  );
