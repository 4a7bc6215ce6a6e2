/** Which atlases a revision needs, and which of those that are made no longer fit. */
import { setImmediate } from 'node:timers/promises';

import type { Logger } from 'pino';

import { exerciseOfStage, parseExercise, stageCount, type Exercise } from '#core/exercise';
import { catalogueContent } from '#core/mistake';
import { unwrap } from '#core/problem';
import { hashOf } from '#server/files';

import { partOf } from '../part.ts';

import type { AtlasStore } from './rows.ts';

/** The parts of a document, the one as drawn first. */
const partsOf = (document: Exercise): readonly { readonly variant: number; readonly stage: number }[] =>
  Array.from({ length: stageCount(document) }, (_, i) => i + 1)
    .flatMap((stage) =>
      [-1, ...exerciseOfStage(document, stage).variants.keys()].map((variant) => ({ variant, stage })),
    )
    .sort((a, b) => a.variant - b.variant || a.stage - b.stage);

/** What an atlas is made of, the mistakes themselves among it: the same inputs give the same atlas. */
function inputsOf(document: Exercise, variant: number, stage: number): string {
  const { exercise, values = {} } = partOf(document, { variant, stage });
  const { recipe, checks, variants, likelihoods, model } = exerciseOfStage(exercise, stage);
  // What a check is called and how much it counts changes nothing that a mistake measures.
  const measuring = checks.map(({ label: _, weight: __, ...check }) => check);
  const inputs = [catalogueContent(exercise, values, stage), recipe, measuring, variants, values, likelihoods, model];
  return hashOf(Buffer.from(JSON.stringify(inputs)));
}

/** Notes what a revision needs; a document without a part needs nothing. */
export function planAtlases(store: AtlasStore, revisionId: number): void {
  const json = store.documentOf(revisionId);
  if (json === null) return;
  const document = unwrap(parseExercise(JSON.parse(json)));
  if (document.recipe.steps.length === 0 && document.model === undefined) return;
  for (const { variant, stage } of partsOf(document))
    store.add({ revisionId, variant, stage }, inputsOf(document, variant, stage));
}

/** Atlases that were made of other mistakes, or of another reading of the document, are made anew. */
function renew(store: AtlasStore, revisionId: number): void {
  const json = store.documentOf(revisionId);
  if (json === null) return;
  const document = unwrap(parseExercise(JSON.parse(json)));
  for (const { variant, stage } of partsOf(document)) {
    const part = { revisionId, variant, stage };
    const inputs = inputsOf(document, variant, stage);
    const stored = store.inputsOf(part);
    if (stored !== null && stored !== inputs) store.reset(part, inputs);
  }
}

/** Looks at all of them, one at a time between what the server answers: each takes some tens of milliseconds. */
export async function renewAtlases(store: AtlasStore, log: Logger, stopped: () => boolean): Promise<void> {
  for (const revisionId of store.planned()) {
    if (stopped()) return;
    try {
      renew(store, revisionId);
    } catch (error) {
      log.error({ revisionId, error: String(error) }, 'atlas could not be looked at');
    }
    await setImmediate();
  }
}
