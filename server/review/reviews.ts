/** What instructors make of attempts: overrides, remarks, accepting, releasing; and what students say about reports. */
import {
  type CollectedRemark,
  type GroupReview,
  type NewReply,
  type Request,
  type Review,
  type ReviewAction,
  type ReviewChange,
  type User,
} from '#api';
import { fillRemark, type Report } from '#core/grade';
import { attempt as attempting, ProblemError, refuse, succeed, type Result } from '#core/problem';
import type { Audit } from '#server/audit';
import type { Db } from '#server/db';

import { createActions } from './actions.ts';
import { createReviewStore, type AttemptRecord } from './rows.ts';

/** Replies to one report: enough for any talk, too few to flood a desk. */
const MOST_REPLIES = 10;

export interface ReviewParts {
  readonly db: Db;
  readonly audit: Audit;
  readonly now: () => Date;
  /** Scores an attempt anew, together with a change or not at all. */
  readonly rescore: (attemptId: number, change: () => void) => Promise<void>;
  /** An attempt looks different now, to its student and to others who review. */
  readonly onChanged: (attempt: {
    readonly attemptId: number;
    readonly assignmentId: number;
    readonly studentId: number;
    readonly courseId: number;
  }) => void;
}

export interface Reviews {
  /** The review of an attempt; what is not released is left out for a student. */
  readonly reviewOf: (attemptId: number, forStudent: boolean) => Review;
  /**
   * Makes one change. Refuses with `not-found`, with `review-changed` where somebody changed the review meanwhile, and with
   * `not-measured`, `no-such-line`, `too-many-remarks`.
   */
  change(attemptId: number, user: User, change: ReviewChange): Promise<Result<Review>>;
  /** The same for several attempts of an assignment, for all or for none; the number of attempts that it changed. */
  changeGroup(assignmentId: number, user: User, group: GroupReview): Promise<Result<number>>;
  /** What a student says about a report. Refuses with `not-found` and `too-many-replies`. */
  reply(attemptId: number, user: User, reply: NewReply): Result<null>;
  /** What students of an instructor said and nobody has answered, the oldest first. */
  readonly requestsOf: (instructorId: number) => Request[];
  /** Remarks that are used again in a course; null for a course that the instructor does not teach. */
  collectionOf(courseId: number, instructorId: number): CollectedRemark[] | null;
  addToCollection(courseId: number, instructorId: number, text: string): CollectedRemark[] | null;
  removeFromCollection(courseId: number, instructorId: number, remarkId: number): CollectedRemark[] | null;
}

export function createReviews({ db, audit, now, rescore, onChanged }: ReviewParts): Reviews {
  const store = createReviewStore(db);
  const isReleased = ({ release, releasedAt }: AttemptRecord): boolean =>
    release === 'automatic' || releasedAt !== null;
  const taught = (attemptId: number, { id }: User): AttemptRecord | null => {
    const record = store.find(attemptId);
    return record !== null && store.mayReview(record.courseId, id) ? record : null;
  };
  const tell = ({ id, assignmentId, studentId, courseId }: AttemptRecord): void => {
    onChanged({ attemptId: id, assignmentId, studentId, courseId });
  };

  const apply = createActions(store, audit, now);

  const reviewOf: Reviews['reviewOf'] = (attemptId, forStudent) => {
    const record = store.find(attemptId);
    if (record === null) throw new Error(`no attempt ${String(attemptId)}`);
    const released = isReleased(record);
    const hidden = forStudent && !released;
    return {
      version: record.version,
      acceptedAt: forStudent ? null : record.acceptedAt,
      acceptedBy: forStudent ? null : record.acceptedBy,
      released,
      remarks: hidden ? [] : store.remarksOf(attemptId),
      replies: store.repliesOf(attemptId),
    };
  };

  const ownCollection = (courseId: number, instructorId: number): boolean => store.mayReview(courseId, instructorId);

  return {
    reviewOf,

    async change(attemptId, user, { version, action }) {
      const record = taught(attemptId, user);
      if (record === null) return refuse('not-found', 'There is no such attempt among those that you review.');
      const make = (): void => {
        // Read again inside the transaction: another instructor may have been quicker.
        const current = store.find(attemptId);
        if (current?.version !== version)
          throw new ProblemError(
            'review-changed',
            `${current?.changedBy ?? 'Somebody'} has changed this review meanwhile. It is shown as it is now; look at it and say it again if it still holds.`,
          );
        apply(current, user, action);
      };
      const scored = action.kind === 'override' || action.kind === 'restore';
      const done = scored ? await attemptAsync(() => rescore(attemptId, make)) : attempting(db.transaction(make));
      if (!done.ok) return done;
      tell(record);
      return succeed(reviewOf(attemptId, false));
    },

    changeGroup(assignmentId, user, { attemptIds, action }) {
      const records = attemptIds.map((id) => taught(id, user));
      if (records.some((record) => record?.assignmentId !== assignmentId))
        return Promise.resolve(refuse('not-found', 'One of these attempts is not of this assignment.'));
      // What was given back is not judged any more; of the others all are changed.
      const chosen = records.flatMap((record) =>
        record === null || (record.state === 'given-back' && action.kind !== 'remark') ? [] : record,
      );
      const done = attempting(
        db.transaction(() => {
          for (const record of chosen) apply(record, user, filled(action, record, store.reportOf(record)));
        }),
      );
      if (done.ok) chosen.forEach(tell);
      return Promise.resolve(done.ok ? succeed(chosen.length) : done);
    },

    reply(attemptId, user, { text, wantsLook }) {
      const record = store.find(attemptId);
      if (record?.studentId !== user.id) return refuse('not-found', 'There is no such attempt among yours.');
      if (store.repliesOf(attemptId).length >= MOST_REPLIES)
        return refuse('too-many-replies', 'You have written enough about this report. Talk to your instructor.');
      store.addReply.run(attemptId, text, wantsLook ? 1 : 0, now().toISOString());
      tell(record);
      return succeed(null);
    },

    requestsOf: (instructorId) => store.openRequestsOf(instructorId),

    collectionOf: (courseId, instructorId) =>
      ownCollection(courseId, instructorId) ? store.collectionOf(courseId) : null,
    addToCollection(courseId, instructorId, text) {
      if (!ownCollection(courseId, instructorId)) return null;
      store.collect.run(courseId, text);
      return store.collectionOf(courseId);
    },
    removeFromCollection(courseId, instructorId, remarkId) {
      if (!ownCollection(courseId, instructorId)) return null;
      store.forget.run(courseId, remarkId);
      return store.collectionOf(courseId);
    },
  };
}

async function attemptAsync(work: () => Promise<void>): Promise<Result<undefined>> {
  try {
    await work();
    return succeed(undefined);
  } catch (error) {
    if (error instanceof ProblemError) return { ok: false, problem: error.problem };
    throw error;
  }
}

/** The action for one attempt of a group, with the fields of a remark filled for it. */
function filled(action: GroupReview['action'], record: AttemptRecord, report: Report | null): ReviewAction {
  if (action.kind !== 'remark') return action;
  const text =
    report === null
      ? action.text
      : fillRemark(action.text, { student: record.student, exercise: record.exercise, report, checkId: null });
  return { kind: 'remark', text, pin: null };
}
