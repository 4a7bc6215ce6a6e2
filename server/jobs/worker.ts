/** Worker thread: owns one kernel and does one task at a time. */
import { readFile } from 'node:fs/promises';
import type { MessagePort } from 'node:worker_threads';

import { workerData } from 'piscina';
import * as v from 'valibot';

import { diagnoseReport, gradeFile, prepareExercise, type Explanation, type GradedFile } from '#core/attempt';
import { ReferenceSchema, type Reference } from '#core/check';
import { gradeMeasurement } from '#core/grade';
import { AtlasSchema, atlasOf, makeMistakes, mistakesOf, proposeChecks, storyOf, verifier } from '#core/mistake';
import { attempt, type Result } from '#core/problem';
import { forDisplay } from '#core/solid';
import { loadOverlayer, startKernel } from '#runtime';

import type {
  AtlasChunk,
  AtlasOfPart,
  AtlasTask,
  Diagnosed,
  DiagnoseTask,
  Gathered,
  GatherTask,
  Graded,
  GradeTask,
  Outcome,
  Prepared,
  PrepareTask,
} from './task.ts';

const RECYCLE_AFTER_TASKS = 200;
const RECYCLE_ABOVE_BYTES = 512 * 1024 * 1024;
const CACHED_REFERENCES = 24;
const CACHED_EXPLANATIONS = 6;

const kernel = await startKernel((workerData as { kernel: WebAssembly.Module }).kernel);
const overlayer = await loadOverlayer();
const references = new Map<string, Reference>();
let tasks = 0;

async function referenceAt(path: string): Promise<Reference> {
  const known = references.get(path);
  if (known) return known;
  const reference = v.parse(ReferenceSchema, JSON.parse(await readFile(path, 'utf8')));
  const [oldest] = references.keys();
  if (references.size >= CACHED_REFERENCES && oldest !== undefined) references.delete(oldest);
  references.set(path, reference);
  return reference;
}

/** Parts whose mistakes are looked up again and again: their atlas, and a builder that keeps what it built. */
const explanations = new Map<string, Explanation>();
async function explanationOf(explain: AtlasOfPart, referencePath: string): Promise<Explanation> {
  const known = explanations.get(explain.atlasPath);
  if (known) return known;
  const reference = await referenceAt(referencePath);
  const atlas = v.parse(AtlasSchema, JSON.parse(await readFile(explain.atlasPath, 'utf8')));
  const { exercise, values, stage } = explain;
  const made = { atlas, verify: verifier(kernel, exercise, reference, { values, stage }) };
  const [oldest] = explanations.keys();
  if (explanations.size >= CACHED_EXPLANATIONS && oldest !== undefined) explanations.delete(oldest);
  explanations.set(explain.atlasPath, made);
  return made;
}

/** Turns a result into an outcome; a trap of the kernel poisons this worker, which then ends itself. */
function settle<T>(work: () => Result<T>): Outcome<T> {
  try {
    const result = work();
    return result.ok ? { kind: 'done', value: result.value } : { kind: 'refused', problem: result.problem };
  } catch (error) {
    leaveSoon();
    return {
      kind: 'crashed',
      reason: kernel.explain(error) ?? (error instanceof Error ? error.message : String(error)),
    };
  } finally {
    if (++tasks >= RECYCLE_AFTER_TASKS || kernel.heapBytes() > RECYCLE_ABOVE_BYTES) leaveSoon();
  }
}

/** Ends this thread only, after its reply is out; the pool starts a new one. */
function leaveSoon(): void {
  setTimeout(() => process.exit(0), 20);
}

export async function grade({ port, ...task }: GradeTask & { port: MessagePort }): Promise<Outcome<Graded>> {
  const bytes = await readFile(task.filePath);
  const reference = await referenceAt(task.referencePath);
  const explain = task.explain === null ? undefined : await explanationOf(task.explain, task.referencePath);
  const outcome = settle(() =>
    gradeFile(kernel, reference, bytes, task.typed, task.policy, {
      fileName: task.fileName,
      unit: task.fileUnit ?? undefined,
      overlayer,
      // Pairs take seconds to build, and are looked for when nobody waits.
      explain: explain && { ...explain, verify: null },
      onStage: (stage) => {
        port.postMessage(stage);
      },
    }),
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

export async function prepare({ exercise, values, stage, modelPath }: PrepareTask): Promise<Outcome<Prepared>> {
  const model = modelPath === undefined ? undefined : new Uint8Array(await readFile(modelPath));
  const outcome = settle(() => prepareExercise(kernel, exercise, { values, stage, model }));
  if (outcome.kind !== 'done') return outcome;
  const { reference, sheet, file, failing } = outcome.value;
  const referenceJson = JSON.stringify(reference);
  return { kind: 'done', value: { referenceJson, sheetJson: JSON.stringify(sheet), part: file, failing } };
}

export async function atlas({
  exercise,
  values,
  stage,
  referencePath,
  from,
  count,
}: AtlasTask): Promise<Outcome<AtlasChunk>> {
  const reference = await referenceAt(referencePath);
  return settle(() =>
    attempt(() => {
      const all = mistakesOf(exercise, values, stage);
      const some = all.slice(from, from + count);
      return { total: all.length, made: makeMistakes(kernel, exercise, reference, some, { values, stage }) };
    }),
  );
}

export async function gather({ exercise, values, stage, referencePath, made }: GatherTask): Promise<Outcome<Gathered>> {
  const reference = await referenceAt(referencePath);
  return settle(() =>
    attempt(() => {
      const atlas = atlasOf(reference, made);
      const proposals = proposeChecks(kernel, exercise, atlas, { values, stage });
      return { atlasJson: JSON.stringify(atlas), proposals };
    }),
  );
}

export async function diagnose(task: DiagnoseTask): Promise<Outcome<Diagnosed>> {
  const { measurement, typed, policy, report } = task;
  const reference = await referenceAt(task.referencePath);
  const explain = await explanationOf(task.explain, task.referencePath);
  return settle(() =>
    attempt(() => {
      const diagnosis = diagnoseReport(measurement, report, explain);
      const scored = gradeMeasurement(reference, measurement, typed, policy, storyOf(diagnosis));
      return { diagnosis, report: { ...scored, overlay: report.overlay, warnings: report.warnings } };
    }),
  );
}
