import { exerciseOfStage, stageCount, type Exercise } from '#core/exercise';
import { refuse, succeed, type Result } from '#core/problem';
import type { ParameterValues } from '#core/recipe';
import type { FileStore } from '#server/files';
import type { Prepared, Runner } from '#server/jobs';

import type { FurtherPart } from './revision-rows.ts';

/** Builds the parts of an exercise in the workers. */
export function createPreparing(files: FileStore, runner: Runner) {
  /** Builds and measures the part with some values; a part that fails its own plan is refused. */
  async function prepare(document: Exercise, stage = 1, values?: ParameterValues): Promise<Result<Prepared>> {
    const outcome = await runner.prepare({
      exercise: document,
      stage,
      ...(values === undefined ? {} : { values }),
      ...(document.model === undefined ? {} : { modelPath: files.pathOf(document.model.sha256) }),
    });
    if (outcome.kind === 'refused') return { ok: false, problem: outcome.problem };
    if (outcome.kind !== 'done')
      return refuse('not-prepared', 'The part could not be built. Try again; if it fails again, simplify the recipe.');
    const { failing } = outcome.value;
    return failing.length > 0
      ? refuse('reference-fails', `The reference itself fails these checks: ${failing.join(', ')}.`)
      : succeed(outcome.value);
  }
  /** Every part of an exercise besides the first stage as drawn, with what to call it. */
  function* furtherParts(document: Exercise) {
    for (let stage = 1; stage <= stageCount(document); stage++) {
      const staged = exerciseOfStage(document, stage);
      const title = document.stages[stage - 2]?.title;
      const inStage = title === undefined ? '' : `Stage "${title}"`;
      if (stage > 1) yield { variant: -1, stage, what: inStage, made: prepare(document, stage) };
      for (const [variant, { name, values }] of staged.variants.entries())
        yield {
          variant,
          stage,
          what: [`Variant ${name}`, inStage].filter(Boolean).join(', '),
          made: prepare(document, stage, values),
        };
    }
  }

  /** Prepares and stores all of them; refuses with what the first that fails is called. */
  async function storeFurther(document: Exercise): Promise<Result<readonly FurtherPart[]>> {
    const parts = await Promise.all(
      [...furtherParts(document)].map(async (part) => ({ ...part, made: await part.made })),
    );
    const stored: FurtherPart[] = [];
    for (const { variant, stage, what, made } of parts) {
      if (!made.ok) return refuse(made.problem.code, `${what}: ${made.problem.message}`);
      stored.push({
        variant,
        stage,
        referenceSha256: (await files.put(Buffer.from(made.value.referenceJson))).sha256,
        sheetSha256: (await files.put(Buffer.from(made.value.sheetJson))).sha256,
        size: made.value.size,
      });
    }
    return succeed(stored);
  }

  return { prepare, storeFurther };
}
