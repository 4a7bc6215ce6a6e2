/** What the database holds of reviews: overrides, remarks, replies, and remarks that are used again. */
import * as v from 'valibot';

import {
  PinSchema,
  type AttemptState,
  type CollectedRemark,
  type Release,
  type Remark,
  type Reply,
  type Request,
} from '#api';
import { ReportSchema, type Report } from '#core/grade';
import { SHOWN_STATE } from '#server/assignment';
import { joinStaff, staffMay } from '#server/auth';
import { JOIN_EXERCISE, type Db } from '#server/db';

/** An attempt with what stands of its review. */
export interface AttemptRecord {
  readonly id: number;
  readonly assignmentId: number;
  readonly studentId: number;
  readonly student: string;
  readonly courseId: number;
  readonly state: AttemptState;
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

export type ReviewStore = ReturnType<typeof createReviewStore>;

const remarkOf = ({ pinJson, ...remark }: RemarkRow): Remark => ({
  ...remark,
  pin: pinJson === null ? null : v.parse(PinSchema, JSON.parse(pinJson)),
});

/** Statements on reviews, each under the name of what it does. */
export function createReviewStore(db: Db) {
  const find = db.prepare<[number], AttemptRecord>(
    `SELECT attempts.id, attempts.assignment_id AS assignmentId, attempts.student_id AS studentId,
            students.name AS student, exercises.course_id AS courseId, ${SHOWN_STATE} AS state,
            exercises.number || ' ' || exercises.title AS exercise, assignments.release,
            coalesce(reviews.version, 0) AS version, changers.name AS changedBy, reviews.accepted_at AS acceptedAt,
            accepters.name AS acceptedBy, reviews.released_at AS releasedAt
     FROM attempts JOIN users AS students ON students.id = attempts.student_id
     ${JOIN_EXERCISE}
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
            exercises.title AS exerciseTitle, sections.name AS section, courses.title AS course, replies.text,
            wants_look AS wantsLook, written_at AS "at"
     FROM replies JOIN attempts ON attempts.id = replies.attempt_id JOIN users ON users.id = attempts.student_id
     ${JOIN_EXERCISE} JOIN sections ON sections.id = assignments.section_id
     JOIN courses ON courses.id = sections.course_id
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
  const giveBack = db.prepare<[string, string, number]>(
    "UPDATE attempts SET state = 'refused', refusal_code = ?, refusal_message = ?, score = NULL WHERE id = ?",
  );
  const countAgain = db.prepare<[number]>(
    `UPDATE attempts SET state = 'graded', refusal_code = NULL, refusal_message = NULL,
       score = (SELECT score FROM reports WHERE attempt_id = attempts.id) WHERE id = ?`,
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

  return {
    find: (attemptId: number): AttemptRecord | null => find.get(attemptId) ?? null,
    reportOf,
    /** Whether somebody reviews in a course. */
    mayReview: (courseId: number, userId: number): boolean => teaches.get(courseId, userId) !== undefined,
    mayRelease: (courseId: number, userId: number): boolean => releases.get(courseId, userId) !== undefined,
    remarksOf: (attemptId: number): Remark[] => remarks.all(attemptId).map(remarkOf),
    repliesOf: (attemptId: number): Reply[] =>
      replies.all(attemptId).map((row) => ({ ...row, wantsLook: row.wantsLook === 1 })),
    /** What students of an instructor said and nobody has answered, the oldest first. */
    openRequestsOf: (instructorId: number): Request[] =>
      open.all(instructorId).map((row) => ({ ...row, wantsLook: row.wantsLook === 1 })),
    collectionOf: (courseId: number): CollectedRemark[] => collection.all(courseId),
    /** Counts a change of a review, which others notice by. */
    touch,
    setAccepted,
    setReleased,
    giveBack,
    countAgain,
    putOverride,
    dropOverride,
    addRemark,
    dropRemark,
    addReply,
    answerReply,
    collect,
    forget,
  };
}
