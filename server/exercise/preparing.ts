import PQueue from 'p-queue';

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
  /** Prepares and stores one of them; refuses with what it is called. */
  async function storeOne(document: Exercise, { what, ...part }: FurtherName): Promise<Result<FurtherPart>> {
    const { variant, stage, values } = part;
    const made = await prepare(document, stage, values);
    if (!made.ok) return refuse(made.problem.code, `${what}: ${made.problem.message}`);
    return succeed({
      variant,
      stage,
      referenceSha256: (await files.put(Buffer.from(made.value.referenceJson))).sha256,
      sheetSha256: (await files.put(Buffer.from(made.value.sheetJson))).sha256,
      size: made.value.size,
    });
  }

  /** Prepares and stores all of them, as many at a time as there are workers; ends with the first that is refused. */
  async function storeFurther(
    document: Exercise,
    onDone: (count: number) => void,
  ): Promise<Result<readonly FurtherPart[]>> {
    const line = new PQueue({ concurrency: runner.width });
    let [isRefused, done] = [false, 0];
    const stored = await line.addAll(
      furtherParts(document).map((part) => async () => {
        if (isRefused) return null;
        const one = await storeOne(document, part);
        isRefused ||= !one.ok;
        onDone(++done);
        return one;
      }),
    );
    const failed = stored.find((one) => one?.ok === false);
    if (failed?.ok === false) return failed;
    return succeed(stored.flatMap((one) => (one?.ok === true ? one.value : [])));
  }

  return { prepare, storeFurther, countFurther: (document: Exercise) => furtherParts(document).length };
}

/** A part of an exercise besides the first stage as drawn, and what it is called. */
interface FurtherName {
  readonly variant: number;
  readonly stage: number;
  readonly values?: ParameterValues;
  readonly what: string;
}

function furtherParts(document: Exercise): readonly FurtherName[] {
  return Array.from({ length: stageCount(document) }, (_, i) => i + 1).flatMap((stage) => {
    const title = document.stages[stage - 2]?.title;
    const inStage = title === undefined ? '' : `Stage "${title}"`;
    const variants = exerciseOfStage(document, stage).variants.map(({ name, values }, variant) => ({
      variant,
      stage,
      values,
      what: [`Variant ${name}`, inStage].filter(Boolean).join(', '),
    }));
    return [...(stage > 1 ? [{ variant: -1, stage, what: inStage }] : []), ...variants];
  });
}
