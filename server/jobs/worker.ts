/** Worker thread: owns one kernel and does one task at a time. */
import { readFile } from 'node:fs/promises';
import type { MessagePort } from 'node:worker_threads';

import { workerData } from 'piscina';
import * as v from 'valibot';

import { gradeFile, prepareExercise } from '#core/attempt';
import { ReferenceSchema, type Reference } from '#core/check';
import type { Result } from '#core/problem';
import { forDisplay } from '#core/solid';
import { loadOverlayer, startKernel } from '#runtime';

import type { Graded, GradeTask, Outcome, Prepared, PrepareTask } from './task.ts';

const RECYCLE_AFTER_TASKS = 200;
const RECYCLE_ABOVE_BYTES = 512 * 1024 * 1024;
const CACHED_REFERENCES = 24;

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
  const outcome = settle(() =>
    gradeFile(kernel, reference, bytes, task.typed, task.policy, {
      fileName: task.fileName,
      unit: task.fileUnit ?? undefined,
      overlayer,
      onStage: (stage) => {
        port.postMessage(stage);
      },
    }),
  );
  if (outcome.kind !== 'done') return outcome;
  const { measurement, report, solid, overlay } = outcome.value;
  return {
    kind: 'done',
    value: {
      measurement,
      report,
      modelJson: JSON.stringify({ bounds: solid.bounds, mesh: forDisplay(solid.mesh) }),
      overlayJson: overlay !== null && overlay.pieces.length > 0 ? JSON.stringify(overlay) : null,
    },
  };
}

export async function prepare({ exercise, values, stage, modelPath }: PrepareTask): Promise<Outcome<Prepared>> {
  const model = modelPath === undefined ? undefined : new Uint8Array(await readFile(modelPath));
  const outcome = settle(() => prepareExercise(kernel, exercise, { values, stage, model }));
  if (outcome.kind !== 'done') return outcome;
  const { reference, sheet, file, failing } = outcome.value;
  const referenceJson = JSON.stringify(reference);
  return { kind: 'done', value: { referenceJson, sheetJson: JSON.stringify(sheet), part: file, failing } };
}
