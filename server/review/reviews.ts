/** What instructors make of attempts: overrides, remarks, accepting, releasing; and what students say about reports. */
import * as v from 'valibot';

import {
  PinSchema,
  type CollectedRemark,
  type GroupReview,
  type NewReply,
  type Release,
  type Remark,
  type Reply,
  type Request,
  type Review,
  type ReviewAction,
  type ReviewChange,
  type User,
} from '#api';
import { fillRemark, ReportSchema, ruleLineId, typedLineId, type Report } from '#core/grade';
import { attempt as attempting, ProblemError, refuse, succeed, type Result } from '#core/problem';
import { joinStaff, staffMay } from '#server/auth';
import type { Db } from '#server/db';

/** Replies to one report: enough for any talk, too few to flood a desk. */
const MOST_REPLIES = 10;
const MOST_REMARKS = 50;

interface AttemptRecord {
  readonly id: number;
  readonly assignmentId: number;
  readonly studentId: number;
  readonly student: string;
  readonly courseId: number;
  readonly exercise: string;
  readonly release: Release;
  readonly version: number;
  readonly changedBy: string | null;
  readonly acceptedAt: string | null;
  readonly acceptedBy: string | null;
  readonly releasedAt: string | null;
}

interface RemarkRow extends Omit<Remark, 'pin'> {
  readonly pinJson: string | null;
}
type ReplyRow = Omit<Reply, 'wantsLook'> & { readonly wantsLook: 0 | 1 };
type RequestRow = Omit<Request, 'wantsLook'> & { readonly wantsLook: 0 | 1 };

export interface ReviewParts {
  readonly db: Db;
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

export function createReviews({ db, now, rescore, onChanged }: ReviewParts): Reviews {
  const find = db.prepare<[number], AttemptRecord>(
    `SELECT attempts.id, attempts.assignment_id AS assignmentId, attempts.student_id AS studentId,
            students.name AS student, exercises.course_id AS courseId,
            exercises.number || ' ' || exercises.title AS exercise, assignments.release,
            coalesce(reviews.version, 0) AS version, changers.name AS changedBy, reviews.accepted_at AS acceptedAt,
            accepters.name AS acceptedBy, reviews.released_at AS releasedAt
     FROM attempts JOIN users AS students ON students.id = attempts.student_id
     JOIN assignments ON assignments.id = attempts.assignment_id
     JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id
     JOIN exercises ON exercises.id = exercise_revisions.exercise_id
     LEFT JOIN reviews ON reviews.attempt_id = attempts.id
     LEFT JOIN users AS changers ON changers.id = reviews.changed_by
     LEFT JOIN users AS accepters ON accepters.id = reviews.accepted_by
     WHERE attempts.id = ?`,
  );
  const report = db.prepare<[number], { json: string }>('SELECT report_json AS json FROM reports WHERE attempt_id = ?');
  const reportOf = ({ id }: AttemptRecord): Report | null => {
    const stored = report.get(id);
    return stored === undefined ? null : v.parse(ReportSchema, JSON.parse(stored.json));
  };
  const teaches = db.prepare<[number, number], { yes: 1 }>(
    `SELECT 1 AS yes FROM course_staff WHERE course_id = ? AND user_id = ? AND ${staffMay('review')}`,
  );
  const releases = db.prepare<[number, number], { yes: 1 }>(
    `SELECT 1 AS yes FROM course_staff WHERE course_id = ? AND user_id = ? AND ${staffMay('release')}`,
  );
  const remarks = db.prepare<[number], RemarkRow>(
    `SELECT remarks.id, text, pin_json AS pinJson, users.name AS "by", made_at AS "at"
     FROM remarks JOIN users ON users.id = made_by WHERE attempt_id = ? ORDER BY remarks.id`,
  );
  const replies = db.prepare<[number], ReplyRow>(
    `SELECT replies.id, text, wants_look AS wantsLook, written_at AS "at", answer, users.name AS answeredBy
     FROM replies LEFT JOIN users ON users.id = answered_by WHERE attempt_id = ? ORDER BY replies.id`,
  );
  const open = db.prepare<[number], RequestRow>(
    `SELECT replies.id AS replyId, attempts.id AS attemptId, users.name AS student, exercises.number AS exerciseNumber,
            exercises.title AS exerciseTitle, replies.text, wants_look AS wantsLook, written_at AS "at"
     FROM replies JOIN attempts ON attempts.id = replies.attempt_id JOIN users ON users.id = attempts.student_id
     JOIN assignments ON assignments.id = attempts.assignment_id
     JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id
     JOIN exercises ON exercises.id = exercise_revisions.exercise_id
     ${joinStaff('exercises.course_id', 'review')}
     WHERE answered_at IS NULL AND course_staff.user_id = ? ORDER BY replies.id LIMIT 200`,
  );
  const touch = db.prepare<[{ id: number; at: string; by: number }]>(
    `INSERT INTO reviews (attempt_id, version, changed_at, changed_by) VALUES (@id, 1, @at, @by)
     ON CONFLICT (attempt_id) DO UPDATE SET version = version + 1, changed_at = @at, changed_by = @by`,
  );
  const setAccepted = db.prepare<[string | null, number | null, number]>(
    'UPDATE reviews SET accepted_at = ?, accepted_by = ? WHERE attempt_id = ?',
  );
  const setReleased = db.prepare<[string | null, number]>('UPDATE reviews SET released_at = ? WHERE attempt_id = ?');
  const putOverride = db.prepare<[number, string, number, string, number, string]>(
    `INSERT INTO overrides (attempt_id, line_id, credit, reason, made_by, made_at) VALUES (?, ?, ?, ?, ?, ?)
     ON CONFLICT DO UPDATE SET credit = excluded.credit, reason = excluded.reason, made_by = excluded.made_by, made_at = excluded.made_at`,
  );
  const dropOverride = db.prepare<[number, string]>('DELETE FROM overrides WHERE attempt_id = ? AND line_id = ?');
  const addRemark = db.prepare<[number, string, string | null, number, string]>(
    'INSERT INTO remarks (attempt_id, text, pin_json, made_by, made_at) VALUES (?, ?, ?, ?, ?)',
  );
  const dropRemark = db.prepare<[number, number]>('DELETE FROM remarks WHERE id = ? AND attempt_id = ?');
  const addReply = db.prepare<[number, string, number, string]>(
    'INSERT INTO replies (attempt_id, text, wants_look, written_at) VALUES (?, ?, ?, ?)',
  );
  const answerReply = db.prepare<[string, number, string, number, number]>(
    'UPDATE replies SET answer = ?, answered_by = ?, answered_at = ? WHERE id = ? AND attempt_id = ?',
  );
  const collection = db.prepare<[number], CollectedRemark>(
    'SELECT id, text FROM remark_collection WHERE course_id = ? ORDER BY text',
  );
  const collect = db.prepare<[number, string]>(
    'INSERT INTO remark_collection (course_id, text) VALUES (?, ?) ON CONFLICT DO NOTHING',
  );
  const forget = db.prepare<[number, number]>('DELETE FROM remark_collection WHERE course_id = ? AND id = ?');

  const isReleased = ({ release, releasedAt }: AttemptRecord): boolean =>
    release === 'automatic' || releasedAt !== null;
  const taught = (attemptId: number, { id }: User): AttemptRecord | null => {
    const record = find.get(attemptId);
    return record !== undefined && teaches.get(record.courseId, id) !== undefined ? record : null;
  };
  const tell = ({ id, assignmentId, studentId, courseId }: AttemptRecord): void => {
    onChanged({ attemptId: id, assignmentId, studentId, courseId });
  };

  const mayRelease = ({ courseId }: AttemptRecord, { id }: User): boolean => releases.get(courseId, id) !== undefined;
  const requireRelease = (record: AttemptRecord, user: User): void => {
    if (!mayRelease(record, user))
      throw new ProblemError(
        'not-allowed',
        'Reports of this course are released by its instructors. Ask one of them, or to be allowed to.',
      );
  };

  /** Makes a change inside a transaction; throws a `ProblemError` where it cannot be made. */
  function apply(record: AttemptRecord, user: User, action: ReviewAction): void {
    const at = now().toISOString();
    const report = reportOf(record);
    if (report === null && action.kind !== 'answer' && action.kind !== 'remark' && action.kind !== 'remove-remark')
      throw new ProblemError('not-measured', 'This attempt was not measured, so there is nothing to judge.');
    touch.run({ id: record.id, at, by: user.id });
    switch (action.kind) {
      case 'override':
        if (report === null || !lineIdsOf(report).has(action.lineId))
          throw new ProblemError('no-such-line', 'The report has no such line any more. Load the page again.');
        putOverride.run(record.id, action.lineId, action.credit, action.reason, user.id, at);
        return;
      case 'restore':
        dropOverride.run(record.id, action.lineId);
        return;
      case 'remark':
        if (remarks.all(record.id).length >= MOST_REMARKS)
          throw new ProblemError('too-many-remarks', `An attempt takes at most ${String(MOST_REMARKS)} remarks.`);
        addRemark.run(record.id, action.text, action.pin === null ? null : JSON.stringify(action.pin), user.id, at);
        return;
      case 'remove-remark':
        dropRemark.run(action.remarkId, record.id);
        return;
      case 'accept':
        setAccepted.run(at, user.id, record.id);
        if (record.release === 'accepted' && mayRelease(record, user)) setReleased.run(at, record.id);
        return;
      case 'reopen':
        setAccepted.run(null, null, record.id);
        return;
      case 'release':
        requireRelease(record, user);
        setReleased.run(at, record.id);
        return;
      case 'hold-back':
        requireRelease(record, user);
        setReleased.run(null, record.id);
        return;
      case 'answer':
        if (answerReply.run(action.text, user.id, at, action.replyId, record.id).changes === 0)
          throw new ProblemError('not-found', 'There is no such reply.');
    }
  }

  const reviewOf: Reviews['reviewOf'] = (attemptId, forStudent) => {
    const record = find.get(attemptId);
    if (record === undefined) throw new Error(`no attempt ${String(attemptId)}`);
    const released = isReleased(record);
    const hidden = forStudent && !released;
    return {
      version: record.version,
      acceptedAt: forStudent ? null : record.acceptedAt,
      acceptedBy: forStudent ? null : record.acceptedBy,
      released,
      remarks: hidden ? [] : remarks.all(attemptId).map(remarkOf),
      replies: replies.all(attemptId).map((row) => ({ ...row, wantsLook: row.wantsLook === 1 })),
    };
  };

  const ownCollection = (courseId: number, instructorId: number): boolean =>
    teaches.get(courseId, instructorId) !== undefined;

  return {
    reviewOf,

    async change(attemptId, user, { version, action }) {
      const record = taught(attemptId, user);
      if (record === null) return refuse('not-found', 'There is no such attempt among those that you review.');
      const make = (): void => {
        // Read again inside the transaction: another instructor may have been quicker.
        const current = find.get(attemptId);
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
      const chosen = records.filter((record) => record !== null);
      const done = attempting(
        db.transaction(() => {
          for (const record of chosen) apply(record, user, filled(action, record, reportOf(record)));
        }),
      );
      if (done.ok) chosen.forEach(tell);
      return Promise.resolve(done.ok ? succeed(chosen.length) : done);
    },

    reply(attemptId, user, { text, wantsLook }) {
      const record = find.get(attemptId);
      if (record?.studentId !== user.id) return refuse('not-found', 'There is no such attempt among yours.');
      if (replies.all(attemptId).length >= MOST_REPLIES)
        return refuse('too-many-replies', 'You have written enough about this report. Talk to your instructor.');
      addReply.run(attemptId, text, wantsLook ? 1 : 0, now().toISOString());
      tell(record);
      return succeed(null);
    },

    requestsOf: (instructorId) => open.all(instructorId).map((row) => ({ ...row, wantsLook: row.wantsLook === 1 })),

    collectionOf: (courseId, instructorId) => (ownCollection(courseId, instructorId) ? collection.all(courseId) : null),
    addToCollection(courseId, instructorId, text) {
      if (!ownCollection(courseId, instructorId)) return null;
      collect.run(courseId, text);
      return collection.all(courseId);
    },
    removeFromCollection(courseId, instructorId, remarkId) {
      if (!ownCollection(courseId, instructorId)) return null;
      forget.run(courseId, remarkId);
      return collection.all(courseId);
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

const lineIdsOf = ({ lines, typed, rules }: Report): ReadonlySet<string> =>
  new Set([
    ...lines.map(({ checkId }) => checkId),
    ...typed.map(({ name }) => typedLineId(name)),
    ...rules.map((_, i) => ruleLineId(i)),
  ]);

const remarkOf = ({ pinJson, ...remark }: RemarkRow): Remark => ({
  ...remark,
  pin: pinJson === null ? null : v.parse(PinSchema, JSON.parse(pinJson)),
});

/** The action for one attempt of a group, with the fields of a remark filled for it. */
function filled(action: GroupReview['action'], record: AttemptRecord, report: Report | null): ReviewAction {
  if (action.kind !== 'remark') return action;
  const text =
    report === null
      ? action.text
      : fillRemark(action.text, { student: record.student, exercise: record.exercise, report, checkId: null });
  return { kind: 'remark', text, pin: null };
}
