/** The closer look: attempts that no single mistake explained are looked up in the finished atlas of their part. */
import * as v from 'valibot';

import { MeasurementSchema } from '#core/check';
import { parseExercise } from '#core/exercise';
import { ReportSchema } from '#core/grade';
import { NO_DIAGNOSIS } from '#core/mistake';
import { unwrap } from '#core/problem';
import type { Events } from '#server/events';

import { partOf } from '../part.ts';

import { nextTry, pathsOf, type AtlasWork } from './make.ts';

export interface CloserLook extends AtlasWork {
  readonly events: Events;
  /** Scores an attempt anew, with what is known of its mistakes. */
  readonly rescore: (attemptId: number) => Promise<void>;
}

/** Attempts that came before their atlas, or that no single mistake explained, are looked up in it. */
export async function lookAgain(work: CloserLook): Promise<void> {
  const { store, files, runner, queue, log, events, now, rescore, stopped } = work;
  for (let row = store.undiagnosed(); row !== null; row = store.undiagnosed()) {
    await queue.idle();
    if (stopped()) return;
    const { attemptId, assignmentId, studentId, courseId } = row;
    const document = unwrap(parseExercise(JSON.parse(row.documentJson)));
    const outcome = await runner.diagnose({
      ...partOf(document, row),
      ...pathsOf(files, document, row.referenceSha256),
      measurement: v.parse(MeasurementSchema, JSON.parse(row.measurementJson)),
      report: v.parse(ReportSchema, JSON.parse(row.reportJson)),
      atlasPath: files.pathOf(row.atlasSha256),
    });
    if (stopped()) return;
    if (outcome.kind === 'gave-way') continue;
    if (outcome.kind !== 'done') {
      log.warn({ attemptId, outcome: outcome.kind, tries: row.tries + 1 }, 'an attempt could not be explained');
      // A busy machine may have been the reason; what is refused stays so.
      const retryAt = outcome.kind === 'refused' ? null : nextTry(now(), row.tries);
      if (retryAt === null) store.setDiagnosis(attemptId, JSON.stringify(NO_DIAGNOSIS));
      else store.postpone(attemptId, retryAt);
      continue;
    }
    store.setDiagnosis(attemptId, JSON.stringify(outcome.value));
    await rescore(attemptId);
    events.publish({ event: { attemptId, assignmentId, state: 'graded', stage: null }, studentId, courseId });
  }
}
