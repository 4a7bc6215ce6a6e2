/** Handing in: what is refused, and what is stored and queued. */
import { subHours } from 'date-fns';

import { readBuildLog } from '#core/buildlog';
import { planAsText } from '#core/buildplan';
import { checkTyped, type RoundAtHandIn, type TypedInput } from '#core/grade';
import { refuse, succeed, type Result } from '#core/problem';
import type { LengthUnit } from '#core/quantity';
import { aidsOf, type VariantStore } from '#server/assignment';
import type { Db } from '#server/db';
import type { FileStore, Incoming } from '#server/files';
import type { Queue } from '#server/jobs';
import type { Rounds, Workings } from '#server/practice';

import type { Access } from './access.ts';
import type { AttemptStore } from './rows.ts';
import type { Sheets } from './sheets.ts';
import { lastOpenStage } from './stages.ts';

export interface HandInRequest {
  readonly assignmentId: number;
  readonly studentId: number;
  /** From 1; further stages are open once the one before was graded. */
  readonly stage?: number;
  readonly fileName: string;
  /** The file, or what was received of it; that is not kept where the hand-in is refused. */
  readonly content: Uint8Array | Incoming;
  /** What the student says a file without unit is in. */
  readonly fileUnit: LengthUnit | null;
  readonly typed: readonly TypedInput[];
  /** The list of build steps, empty for none. */
  readonly buildLog?: string;
  /** What the page calls this hand-in: sent again under the same name, it is the same attempt. */
  readonly key?: string | null;
}

export interface HandInParts {
  readonly db: Db;
  readonly files: FileStore;
  readonly queue: Queue;
  readonly now: () => Date;
  readonly store: AttemptStore;
  readonly access: Access;
  readonly variants: VariantStore;
  readonly sheets: Pick<Sheets, 'sheetOf'>;
  readonly rounds: Pick<Rounds, 'openOf'>;
  readonly workings: Pick<Workings, 'find'>;
}

/** Files of one student that took all the time there is, or ended the measuring program, in an hour. */
const MOST_SLOW_FILES = 3;

const TOO_MANY_SLOW_FILES = `${String(MOST_SLOW_FILES)} of your files took too long to be measured within the last hour, or stopped the measuring program. Wait an hour, and show your instructor one of them.`;

/** Stores the file and queues its grading. Refuses with `not-found`, `closed`, `no-attempts-left`, and bad numbers. */
export type HandIn = (request: HandInRequest) => Promise<Result<number>>;

export function createHandIn(parts: HandInParts): HandIn {
  const { db, files, queue, now, store, access, variants, sheets, rounds, workings } = parts;
  /** How far somebody is round the sheet, where the course asks for it or counts it; refuses where it has to be complete first. */
  const roundAt = async (
    row: Parameters<typeof aidsOf>[0],
    place: Parameters<Rounds['openOf']>[1],
  ): Promise<Result<RoundAtHandIn | null>> => {
    const wanted = aidsOf(row).round;
    if (wanted !== 'asked' && wanted !== 'counted') return succeed(null);
    const sheet = sheets.sheetOf(place.assignmentId, place.studentId, place.stage);
    const round = sheet === null ? { open: 0, all: 0 } : await rounds.openOf(sheet, place);
    if (wanted === 'counted') return succeed(round);
    if (round.open === 0) return succeed(null);
    return refuse(
      'round-open',
      `Your course asks for every dimension of the sheet to be measured first: ${String(round.open)} of ${String(round.all)} are open. Go round the sheet, and hand in then.`,
    );
  };
  /** The list of build steps: the one that was sent, or the plan where the course asks for one; refuses without a plan. */
  const buildLogAt = (
    row: Parameters<typeof aidsOf>[0],
    place: Parameters<Rounds['openOf']>[1],
    sent: string,
  ): Result<string> => {
    if (aidsOf(row).plan !== 'asked') return succeed(sent);
    const plan = workings.find('plan', place).document;
    if (plan === null || plan.steps.length === 0)
      return refuse(
        'plan-open',
        'Your course asks for a plan of the steps first. Plan how the part is built, on the page of the exercise, and hand in then.',
      );
    return succeed(sent.trim() === '' ? planAsText(plan) : sent);
  };
  return async ({
    assignmentId,
    studentId,
    stage = 1,
    fileName,
    content,
    fileUnit,
    typed,
    buildLog = '',
    key = null,
  }) => {
    const sent = key === null ? null : store.attemptOfKey(studentId, key);
    if (sent !== null) return succeed(sent);
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
    const slow = store.slowSince(studentId, subHours(now(), 1).toISOString());
    if (slow >= MOST_SLOW_FILES) return refuse('too-many-slow-files', TOO_MANY_SLOW_FILES);
    // A student who was enrolled after the issue gets a variant with the first look at the work.
    variants.of(assignmentId, studentId);
    const round = await roundAt(row, { assignmentId, studentId, stage });
    if (!round.ok) return round;
    const checked = checkTyped(typed);
    if (!checked.ok) return checked;
    const steps = buildLogAt(row, { assignmentId, studentId, stage }, buildLog);
    if (!steps.ok) return steps;
    const log = readBuildLog(steps.value);
    if (!log.ok) return log;
    const stored = content instanceof Uint8Array ? await files.put(content) : await files.keep(content);
    // Checked again together with the insert: two browsers may hand in at once.
    const result = db.transaction((): Result<number> => {
      const sentMeanwhile = key === null ? null : store.attemptOfKey(studentId, key);
      if (sentMeanwhile !== null) return succeed(sentMeanwhile);
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
        buildLog: steps.value,
        key,
        handedInAt: now().toISOString(),
        roundOpen: round.value?.open ?? null,
        roundAll: round.value?.all ?? null,
      });
      queue.add(attemptId);
      return succeed(attemptId);
    })();
    queue.wake();
    return result;
  };
}
