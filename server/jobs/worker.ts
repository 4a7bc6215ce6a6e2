/** Worker thread: owns one kernel and does one task at a time. */
import { readFile } from 'node:fs/promises';
import type { MessagePort } from 'node:worker_threads';

import { LRUCache } from 'lru-cache';
import { workerData } from 'piscina';
import * as v from 'valibot';

import { diagnoseReport, gradeFile, prepareExercise, type GradedFile } from '#core/attempt';
import type { OpenInWords } from '#api';
import { ReferenceSchema, type Reference } from '#core/check';
import { DeterminacyStudy, openSizesOf, type OpenSize } from '#core/determinacy';
import { exerciseOfStage } from '#core/exercise';
import {
  AtlasSchema,
  atlasOf,
  coverageOf,
  groundOf,
  makeMistakes,
  mistakesOf,
  proposeChecks,
  verifier,
  type Atlas,
  type Coverage,
  type Diagnosis,
  type Ground,
} from '#core/mistake';
import { lookalikesOf, type Lookalikes } from '#core/lookalike';
import { openPart } from '#core/model';
import { attempt, succeed, type Result } from '#core/problem';
import { forDisplay } from '#core/solid';
import { loadOverlayer, startKernel } from '#runtime';

import { unpackExercise, type Unpacked } from '#server/archive';
import { printed, type PrintTask } from '#server/print';
import { cutTerm, type CutTerm, type TermTask } from '#server/extract';

import type {
  AtlasChunk,
  AtlasTask,
  CoverageTask,
  DiagnoseTask,
  Gathered,
  GatherTask,
  Graded,
  GradeTask,
  LookalikesTask,
  MistakenPart,
  Outcome,
  Prepared,
  PrepareTask,
  StudyTask,
} from './task.ts';

const RECYCLE_AFTER_TASKS = 200;
const RECYCLE_ABOVE_BYTES = 512 * 1024 * 1024;

const { kernel: compiled, recycleAfterTasks = RECYCLE_AFTER_TASKS } = workerData as {
  readonly kernel: WebAssembly.Module;
  readonly recycleAfterTasks?: number;
};
const kernel = await startKernel(compiled);
const overlayer = await loadOverlayer();
let tasks = 0;
/** Whether the pool should replace this worker before the next task. */
let isWorn = false;

const readJson = async (path: string): Promise<unknown> => JSON.parse(await readFile(path, 'utf8'));

const references = new LRUCache<string, Reference>({
  max: 24,
  fetchMethod: async (path) => v.parse(ReferenceSchema, await readJson(path)),
});
const atlases = new LRUCache<string, Atlas>({
  max: 6,
  fetchMethod: async (path) => v.parse(AtlasSchema, await readJson(path)),
});
/** By reference and document: what mistakes are built on stays from one task to the next. */
const grounds = new LRUCache<string, Ground>({
  max: 3,
  dispose: (ground) => {
    ground.free();
  },
});

const referenceAt = (path: string): Promise<Reference> => references.forceFetch(path);

async function modelAt(path: string | undefined): Promise<Uint8Array | undefined> {
  return path === undefined ? undefined : new Uint8Array(await readFile(path));
}

/** Gives the ground of a part when it is called; the model file is read only where the ground is not known yet. */
async function groundFor({ referencePath, exercise, modelPath }: MistakenPart): Promise<() => Ground> {
  // Documents with one and the same reference may tell their mistakes otherwise.
  const key = `${referencePath} ${JSON.stringify(exercise)}`;
  const model = grounds.has(key) ? undefined : await modelAt(modelPath);
  return () => {
    const known = grounds.get(key);
    if (known !== undefined) return known;
    const ground = groundOf(kernel, exercise, model);
    grounds.set(key, ground);
    return ground;
  };
}

/** Turns a result into an outcome; a trap of the kernel poisons this worker, which then wants to be replaced. */
function settle<T>(work: () => Result<T>): Outcome<T> {
  try {
    const result = work();
    return result.ok ? { kind: 'done', value: result.value } : { kind: 'refused', problem: result.problem };
  } catch (error) {
    isWorn = true;
    return {
      kind: 'crashed',
      reason: kernel.explain(error) ?? (error instanceof Error ? error.message : String(error)),
    };
  } finally {
    if (++tasks >= recycleAfterTasks || kernel.heapBytes() > RECYCLE_ABOVE_BYTES) isWorn = true;
  }
}

/** A task as the pool calls it: the reply says whether the worker is worn out. */
const replying =
  <T, R>(work: (task: T) => Promise<Outcome<R>> | Outcome<R>) =>
  async (task: T): Promise<Outcome<R> & { readonly worn?: boolean }> => {
    const outcome = await work(task);
    return isWorn ? { ...outcome, worn: true } : outcome;
  };

async function gradeNow({ port, ...task }: GradeTask & { port: MessagePort }): Promise<Outcome<Graded>> {
  const bytes = await readFile(task.filePath);
  const reference = await referenceAt(task.referencePath);
  // Pairs take seconds to build, and are looked for when nobody waits.
  const explain =
    task.atlasPath === null ? undefined : { atlas: await atlases.forceFetch(task.atlasPath), verify: null };
  const outcome = settle(() =>
    gradeFile(
      kernel,
      reference,
      { bytes, typed: task.typed, policy: task.policy },
      {
        fileName: task.fileName,
        unit: task.fileUnit ?? undefined,
        overlayer,
        explain,
        circumstances: task.circumstances,
        replay: task.replay ?? undefined,
        onStage: (stage) => {
          port.postMessage(stage);
        },
      },
    ),
  );
  if (outcome.kind !== 'done') return outcome;
  const { measurement, report, solid, overlay } = outcome.value;
  const diagnosis = isSettled(outcome.value) ? outcome.value.diagnosis : null;
  return {
    kind: 'done',
    value: {
      measurement,
      report,
      diagnosis,
      modelJson: JSON.stringify({ bounds: solid.bounds, mesh: forDisplay(solid.mesh) }),
      overlayJson: overlay !== null && overlay.pieces.length > 0 ? JSON.stringify(overlay) : null,
    },
  };
}

/** Whether there is nothing more to find out: all is right, or a single mistake explains it completely. */
const isSettled = ({ report, diagnosis }: Pick<GradedFile, 'report' | 'diagnosis'>): boolean =>
  report.lines.every(({ verdict, weight }) => verdict === 'right' || weight === 0) ||
  diagnosis?.hypotheses[0]?.fit === 'complete';

async function prepareNow({ exercise, values, stage, modelPath }: PrepareTask): Promise<Outcome<Prepared>> {
  const model = await modelAt(modelPath);
  const outcome = settle(() => prepareExercise(kernel, exercise, { values, stage, model }));
  if (outcome.kind !== 'done') return outcome;
  const { reference, sheet, file, failing } = outcome.value;
  const referenceJson = JSON.stringify(reference);
  const { volumeMm3, areaMm2 } = reference.solid.estimate;
  const size = { volumeMm3, areaMm2 };
  return { kind: 'done', value: { referenceJson, size, sheetJson: JSON.stringify(sheet), part: file, failing } };
}

async function atlasNow(task: AtlasTask): Promise<Outcome<AtlasChunk>> {
  const { exercise, values, stage, from, count } = task;
  const [reference, groundHere] = [await referenceAt(task.referencePath), await groundFor(task)];
  return settle(() =>
    attempt(() => {
      const ground = groundHere();
      const all = mistakesOf(ground.exercise, values, stage, ground.sizes);
      const options = { values, stage, ground };
      const made = makeMistakes(kernel, exercise, reference, { mistakes: all.slice(from, from + count), ...options });
      return { total: all.length, made };
    }),
  );
}

async function gatherNow(task: GatherTask): Promise<Outcome<Gathered>> {
  const { exercise, values, stage, made } = task;
  const [reference, groundHere] = [await referenceAt(task.referencePath), await groundFor(task)];
  return settle(() =>
    attempt(() => {
      const gathered = atlasOf(reference, made);
      const options = { values, stage, ground: groundHere() };
      const proposals = proposeChecks(kernel, exercise, gathered, options);
      return { atlasJson: JSON.stringify(gathered), proposals };
    }),
  );
}

function studyNow({ exercise: document, values = {}, stage }: StudyTask): Outcome<OpenInWords> {
  return settle(() =>
    attempt(() => {
      const exercise = exerciseOfStage(document, stage);
      const basis = openPart(kernel, exercise, { values });
      const parts = new DeterminacyStudy(kernel, basis, values);
      try {
        const { undetermined, unchecked } = openSizesOf(parts, basis);
        const words = (sizes: readonly OpenSize[]): string[] => sizes.map(({ what }) => what);
        return { undetermined: words(undetermined), unchecked: words(unchecked) };
      } finally {
        parts.free();
      }
    }),
  );
}

async function lookalikesNow({ exercise, values, stage, referencePath }: LookalikesTask): Promise<Outcome<Lookalikes>> {
  const { solid } = await referenceAt(referencePath);
  return settle(() => attempt(() => lookalikesOf(kernel, exercise, solid, { values, stage })));
}

async function diagnoseNow(task: DiagnoseTask): Promise<Outcome<Diagnosis>> {
  const { measurement, report, exercise, values, stage } = task;
  const [reference, known] = [await referenceAt(task.referencePath), await atlases.forceFetch(task.atlasPath)];
  const groundHere = await groundFor(task);
  return settle(() =>
    attempt(() => {
      const { verify } = verifier(kernel, exercise, reference, { values, stage, ground: groundHere() });
      return diagnoseReport(measurement, report, { atlas: known, verify });
    }),
  );
}

async function coverageNow({ exercise, atlasPath }: CoverageTask): Promise<Outcome<Coverage>> {
  const atlas = await atlases.forceFetch(atlasPath);
  return settle(() => succeed(coverageOf(exercise, atlas)));
}

async function unpackNow({ bytes }: { readonly bytes: Uint8Array }): Promise<Outcome<Unpacked>> {
  const unpacked = await unpackExercise(bytes);
  return settle(() => unpacked);
}

async function cutTermNow(task: TermTask): Promise<Outcome<CutTerm>> {
  return { kind: 'done', value: await cutTerm(task) };
}

async function printNow(task: PrintTask): Promise<Outcome<Uint8Array>> {
  const pdf = await printed(task);
  return settle(() => pdf);
}

export const grade = replying(gradeNow);
export const prepare = replying(prepareNow);
export const print = replying(printNow);
export const unpack = replying(unpackNow);
const cutting = replying(cutTermNow);
export { cutting as cutTerm };
export const atlas = replying(atlasNow);
export const gather = replying(gatherNow);
export const study = replying(studyNow);
export const lookalikes = replying(lookalikesNow);
export const diagnose = replying(diagnoseNow);
export const coverage = replying(coverageNow);
