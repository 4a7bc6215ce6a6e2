/** One attempt as its student or a teacher may see it: the report, the files, the overlay, the reference. */
import * as v from 'valibot';

import { may, TypedInputsSchema, type Aids, type AttemptDetail, type Preparation, type User } from '#api';
import { reportFor, ReportSchema, tells, type Report } from '#core/grade';
import { minutesOf } from '#core/timelog';
import type { Placement } from '#core/vector';
import { lineOf } from '#core/buildplan';
import { aidsOf, answerPhase, attemptRowOf, documentOf, factsOf, type VariantStore } from '#server/assignment';
import type { Workings } from '#server/practice';
import type { Reviews } from '#server/review';

import type { Access } from './access.ts';
import type { AttemptRecord, AttemptStore } from './rows.ts';
import { stageTitle } from './stages.ts';
import type { Work } from './work.ts';

export interface Details {
  /** An attempt as the user may see it, or null. */
  detailFor(attemptId: number, user: User): AttemptDetail | null;
  /** The attempt whose overlay the user may see: a student after the answers are released. */
  overlayFor(attemptId: number, user: User): Pick<AttemptRecord, 'overlaySha256' | 'fileName'> | null;
  /** The reference that an attempt was measured against, for whoever teaches it. */
  referenceFor(attemptId: number, user: User): { readonly sha256: string; readonly placement: Placement } | null;
  /** Hashes of the files of an attempt that the user may see. */
  filesFor(attemptId: number, user: User): Pick<AttemptRecord, 'fileSha256' | 'fileName' | 'modelSha256'> | null;
}

export interface DetailsParts {
  readonly workings: Pick<Workings, 'find'>;
  readonly store: AttemptStore;
  readonly access: Access;
  readonly variants: VariantStore;
  readonly work: Work;
  readonly now: () => Date;
  readonly reviewOf: Reviews['reviewOf'];
}

/** What the attempt itself says, without its report. */
const factsOfAttempt = (record: AttemptRecord) => ({
  id: record.id,
  number: record.number,
  state: record.state,
  student: { id: record.studentId, name: record.student },
  fileName: record.fileName,
  fileSizeBytes: record.fileSizeBytes,
  fileSha256: record.fileSha256,
  handedInAt: record.handedInAt,
  gradedAt: record.gradedAt,
  durationMs: record.durationMs,
  typed: v.parse(TypedInputsSchema, JSON.parse(record.typedJson)),
  refusal: record.refusalCode === null ? null : { code: record.refusalCode, message: record.refusalMessage ?? '' },
  buildLog: record.buildLog,
});

export function createDetails({ store, access, variants, work, now, reviewOf, workings }: DetailsParts): Details {
  function preparationOf({ assignmentId, studentId, stage }: AttemptRecord, aids: Aids): Preparation {
    const place = { assignmentId, studentId, stage };
    const round = workings.find('round', place);
    const log = workings.find('time', place).document;
    return {
      measured: Object.keys(round.document ?? {}).length,
      measuredAt: round.updatedAt,
      sizes: (workings.find('sizes', place).document ?? []).map(({ name, sum, help }) => ({ name, sum, help })),
      plan: (workings.find('plan', place).document?.steps ?? []).map(lineOf),
      minutes: aids.time === 'shared' && log !== null ? minutesOf(log, now().getTime()) : null,
    };
  }

  /** The graded attempts before and after one, as a teacher goes through them. */
  function neighborsOf({ assignmentId, studentId, stage }: AttemptRecord, user: User) {
    const order = may(user.role, 'review') ? store.reviewOrder(assignmentId) : [];
    const place = order.findIndex((entry) => entry.studentId === studentId && entry.stage === stage);
    return {
      previousId: order[place - 1]?.id ?? null,
      nextId: place < 0 ? null : (order[place + 1]?.id ?? null),
    };
  }

  return {
    detailFor(attemptId, user) {
      const record = access.visible(attemptId, user);
      const row = record && store.assignmentFor(record.assignmentId, record.studentId);
      if (!record || !row) return null;
      const full =
        record.reportJson === null || record.state === 'given-back'
          ? null
          : v.parse(ReportSchema, JSON.parse(record.reportJson));
      const forStudent = !may(user.role, 'read-course');
      const review = reviewOf(attemptId, forStudent);
      const degree = access.degreeOf(row, record, review.released);
      const shown = (whole: Report): Report | null =>
        !forStudent ? whole : degree === null ? null : reportFor(whole, degree, answerPhase(row, now()));
      const document = documentOf(row);
      const place = variants.of(row.id, record.studentId);
      return {
        ...factsOfAttempt(record),
        variant: place === null ? null : (document.variants[place]?.name ?? null),
        stage: stageTitle(document, record.stage),
        assignment: factsOf(row),
        report: full && shown(full),
        review,
        attempts: forStudent
          ? work.attemptsFor(row, record.studentId)
          : store.attemptsOf(row.id, record.studentId).map(attemptRowOf),
        courseId: row.courseId,
        preparation: forStudent ? null : preparationOf(record, aidsOf(row)),
        scored:
          forStudent || record.program === null
            ? null
            : { program: record.program, ownPolicy: row.policyJson !== null },
        ...neighborsOf(record, user),
      };
    },

    filesFor: (attemptId, user) => access.visible(attemptId, user),

    referenceFor(attemptId, user) {
      const record = may(user.role, 'read-course') ? access.visible(attemptId, user) : null;
      const sha256 = store.referenceOf(attemptId);
      if (!record?.reportJson || sha256 === null) return null;
      const { frame } = v.parse(ReportSchema, JSON.parse(record.reportJson));
      return { sha256, placement: frame.placement };
    },

    overlayFor(attemptId, user) {
      const record = access.visible(attemptId, user);
      const row = record && store.assignmentFor(record.assignmentId, record.studentId);
      if (!record?.overlaySha256 || !row) return null;
      if (may(user.role, 'read-course')) return record;
      const degree = access.degreeOf(row, record, reviewOf(attemptId, true).released);
      // What is missing or extra tells the volume of the reference.
      return degree !== null && tells(degree, 'overlay') && answerPhase(row, now()) === 'released' ? record : null;
    },
  };
}
