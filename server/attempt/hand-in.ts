/** Handing in: what is refused, and what is stored and queued. */
import { readBuildLog } from '#core/buildlog';
import { checkTyped, type TypedInput } from '#core/grade';
import { refuse, succeed, type Result } from '#core/problem';
import type { LengthUnit } from '#core/quantity';
import type { VariantStore } from '#server/assignment';
import type { Db } from '#server/db';
import type { FileStore } from '#server/files';
import type { Queue } from '#server/jobs';

import type { Access } from './access.ts';
import type { AttemptStore } from './rows.ts';
import { lastOpenStage } from './stages.ts';

export interface HandInRequest {
  readonly assignmentId: number;
  readonly studentId: number;
  /** From 1; further stages are open once the one before was graded. */
  readonly stage?: number;
  readonly fileName: string;
  readonly content: Uint8Array;
  /** What the student says a file without unit is in. */
  readonly fileUnit: LengthUnit | null;
  readonly typed: readonly TypedInput[];
  /** The list of build steps, empty for none. */
  readonly buildLog?: string;
}

export interface HandInParts {
  readonly db: Db;
  readonly files: FileStore;
  readonly queue: Queue;
  readonly now: () => Date;
  readonly store: AttemptStore;
  readonly access: Access;
  readonly variants: VariantStore;
}

/** Stores the file and queues its grading. Refuses with `not-found`, `closed`, `no-attempts-left`, and bad numbers. */
export type HandIn = (request: HandInRequest) => Promise<Result<number>>;

export function createHandIn({ db, files, queue, now, store, access, variants }: HandInParts): HandIn {
  return async ({ assignmentId, studentId, stage = 1, fileName, content, fileUnit, typed, buildLog = '' }) => {
    const row = store.work(studentId, assignmentId);
    if (row === null) return refuse('not-found', 'There is no such exercise among your work.');
    if (stage > lastOpenStage(store, row, studentId))
      return refuse('stage-closed', 'This stage opens when the one before has been handed in and measured.');
    const closed = (): Result<never> | null => {
      const because = access.closedBecause(row, store.used(assignmentId, studentId, stage));
      return because && refuse(because.code, because.message);
    };
    const closedNow = closed();
    if (closedNow) return closedNow;
    // A student who was enrolled after the issue gets a variant with the first look at the work.
    variants.of(assignmentId, studentId);
    const checked = checkTyped(typed);
    if (!checked.ok) return checked;
    const log = readBuildLog(buildLog);
    if (!log.ok) return log;
    const stored = await files.put(content);
    // Checked again together with the insert: two browsers may hand in at once.
    const result = db.transaction((): Result<number> => {
      const stillClosed = closed();
      if (stillClosed) return stillClosed;
      const attemptId = store.add({
        assignmentId,
        studentId,
        stage,
        fileSha256: stored.sha256,
        fileName,
        fileSizeBytes: stored.sizeBytes,
        fileUnit,
        typedJson: JSON.stringify(checked.value),
        buildLog,
        handedInAt: now().toISOString(),
      });
      queue.add(attemptId);
      return succeed(attemptId);
    })();
    queue.wake();
    return result;
  };
}
